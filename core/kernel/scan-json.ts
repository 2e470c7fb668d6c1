import { equal, idOf } from './arena';
import { NEWLINE, plainEnd, QUOTE, SPACE, spacesEnd, ZERO } from './bytes';
import { timeAt, WITH_MILLISECONDS, WITH_SECONDS } from './clock';
import { NUMBER_COUNT, PORT, STATUS, TIME } from './fields';
import { beginLine, beginLines, endLine, isFull, lineCount, see, seen, setNumber, setRun } from './lines';

/*
 * JSON objects, a line each: of texts in ASCII without escapes, numbers, `null`, `true` and `false`, and of objects and
 * lists, in which fields are looked for where a node says so. The plain scanner beside it is
 * `core/src/log/block/json-scanner.ts`.
 */

const COLON: u8 = 58;
const COMMA: u8 = 44;
const DOT: u8 = 46;
const OPEN: u8 = 123;
const CLOSE: u8 = 125;
const OPEN_LIST: u8 = 91;
const CLOSE_LIST: u8 = 93;
const MINUS: u8 = 45;
const RETURN: u8 = 13;

/** A number of up to this many digits is exact. */
const MOST_DIGITS: usize = 15;
/** Larger times are milliseconds. */
const MOST_SECONDS: u64 = 100_000_000_000;
const MOST_IGNORED: u32 = 64;
/** Of a line with a longer key no more is looked at. */
const LONGEST_KEY: usize = 1024;
/** Values that are not read may be this deep. */
const DEEPEST: u32 = 32;

/** The purpose of a value, beside the number of a field: not read, its line has to be left, or fields are inside. */
const IGNORED: i32 = -1;
const LEFT: i32 = -2;
const INSIDE: i32 = -3;

/** Of a key that is not known yet, or of a line that is left. */
const UNKNOWN: i32 = -1;
const NO_KEY: i32 = -2;

/** A node, as `ScanCalls` in `core/src/kernel/calls.ts` describes it. */
const ARENA: usize = 0;
const KNOWN: usize = 4;
const MOST_KEYS: usize = 8;
const MEANINGS: usize = 12;
/** By key, the line that it came in last. */
const MET: usize = 16;
/** By key + 1, and 0 for the first of an object: the key that came behind it last, plus one. Cleared in each call. */
const NEXT: usize = 20;
const CLEARED: usize = 24;
/** By key, where it came last among the bytes at hand, and how long it is. */
const AT: usize = 28;
const LENGTHS: usize = 32;
const ELEMENTS: usize = 36;
const ELEMENT_COUNT: usize = 40;

/** What a value is: its purpose, the number of its place or −1, and the node inside. */
const PLACE: usize = 4;
const NODE: usize = 8;
const MEANING: usize = 12;

let root: usize = 0;
let ignored: usize = 0;
let ignoredEnds: usize = 0;
let ignoredRoom: u32 = 0;
let ignoredCount: u32 = 0;
/** How many there were in front of the line. */
let ignoredBefore: u32 = 0;
/** The places that the line has, as bits. */
let found: u32 = 0;
let stamp: u32 = 0;
/** The first stamp of the call. */
let call: u32 = 0;
let unknown: usize = 0;
let unknownNode: usize = 0;
let hashStart: i32 = 0;
let secret: i32 = 0;

export function scanJson(
  bytes: usize,
  from: u32,
  length: u32,
  lines: usize,
  json: usize,
  start: i32,
  spread: i32,
): u32 {
  beginLines(bytes, lines);
  root = load<u32>(json);
  ignored = load<u32>(json + 4);
  ignoredEnds = load<u32>(json + 8);
  ignoredRoom = load<u32>(json + 12);
  const founds: usize = load<u32>(json + 16);
  stamp = load<u32>(json + 20);
  call = stamp + 1;
  hashStart = start;
  secret = spread;
  ignoredCount = 0;
  unknown = 0;
  const end = bytes + length;
  let at = bytes + from;
  while (at < end && !isFull() && ignoredCount + MOST_IGNORED <= ignoredRoom) {
    stamp++;
    beginLine();
    found = 0;
    ignoredBefore = ignoredCount;
    const newline = lineAt(at);
    if (unknown !== 0) break;
    if (newline === 0) ignoredCount = ignoredBefore;
    store<u32>(ignoredEnds + ((<usize>lineCount()) << 2), ignoredCount);
    store<u32>(founds + ((<usize>lineCount()) << 2), found);
    at = endLine(at, newline);
  }
  store<u32>(json + 20, stamp);
  store<u32>(json + 24, unknown === 0 ? 0 : <u32>(unknown - bytes));
  store<u32>(json + 28, unknown === 0 ? 0 : <u32>(plainEnd(unknown) - unknown));
  store<u32>(json + 32, <u32>unknownNode);
  return lineCount();
}

/** A pointer to the line feed behind the object; 0 where the line is left. */
function lineAt(start: usize): usize {
  if (load<u8>(start) !== OPEN) return 0;
  let at = objectAt(start, root);
  if (at === 0 || (seen === 0 && found === 0)) return 0;
  while (load<u8>(at) === SPACE || load<u8>(at) === RETURN) at++;
  return load<u8>(at) === NEWLINE ? at : 0;
}

/** A pointer behind the object; 0 where the line is left. */
function objectAt(start: usize, node: usize): usize {
  let at = spacesEnd(start + 1);
  if (load<u8>(at) === CLOSE) return at + 1;
  if (load<u32>(node + CLEARED) !== call) {
    memory.fill(load<u32>(node + NEXT), 0, (<usize>load<u32>(node + KNOWN) + 1) << 2);
    store<u32>(node + CLEARED, call);
  }
  const meanings: usize = load<u32>(node + MEANINGS);
  const met: usize = load<u32>(node + MET);
  const lengths: usize = load<u32>(node + LENGTHS);
  let previous: u32 = 0;
  while (true) {
    if (load<u8>(at) !== QUOTE) return 0;
    const key = keyAt(at + 1, previous, node);
    if (key < 0) {
      if (key === UNKNOWN) {
        unknown = at + 1;
        unknownNode = node;
      }
      return 0;
    }
    previous = <u32>key + 1;
    const place = (<usize>key) << 2;
    at = spacesEnd(at + 2 + load<u32>(lengths + place));
    if (load<u8>(at) !== COLON) return 0;
    // A key that comes twice is left to who reads any line.
    if (load<u32>(met + place) === stamp) return 0;
    store<u32>(met + place, stamp);
    const meaning = meanings + <usize>key * MEANING;
    at = meantAt(spacesEnd(at + 1), meaning);
    if (at === 0) return 0;
    if (node === root && load<i32>(meaning) === IGNORED) {
      if (ignoredCount - ignoredBefore === MOST_IGNORED) return 0;
      store<u32>(ignored + ((<usize>ignoredCount) << 2), <u32>key);
      ignoredCount++;
    }
    at = spacesEnd(at);
    const byte = load<u8>(at);
    if (byte === CLOSE) return at + 1;
    if (byte !== COMMA) return 0;
    at = spacesEnd(at + 1);
  }
}

function listAt(start: usize, node: usize): usize {
  const elements: usize = load<u32>(node + ELEMENTS);
  const end = elements + <usize>load<u32>(node + ELEMENT_COUNT) * (MEANING + 4);
  let at = spacesEnd(start + 1);
  if (load<u8>(at) === CLOSE_LIST) return at + 1;
  let number: u32 = 0;
  while (true) {
    let element = elements;
    while (element < end && load<u32>(element) !== number) element += MEANING + 4;
    number++;
    at = element < end ? meantAt(at, element + 4) : skipAt(at, 0);
    if (at === 0) return 0;
    at = spacesEnd(at);
    const byte = load<u8>(at);
    if (byte === CLOSE_LIST) return at + 1;
    if (byte !== COMMA) return 0;
    at = spacesEnd(at + 1);
  }
}

/** Takes the value that begins there for what it is; a pointer behind it, or 0 where the line is left. */
function meantAt(at: usize, meaning: usize): usize {
  const purpose = load<i32>(meaning);
  if (purpose === IGNORED) return skipAt(at, 0);
  if (purpose === INSIDE) {
    const byte = load<u8>(at);
    if (byte === OPEN) return objectAt(at, load<u32>(meaning + NODE));
    return byte === OPEN_LIST ? listAt(at, load<u32>(meaning + NODE)) : 0;
  }
  if (purpose === LEFT || (seen & (1 << purpose)) !== 0) return 0;
  const place = load<i32>(meaning + PLACE);
  if (place >= 0) found |= 1 << place;
  return valueAt(at, purpose);
}

/** Passes by the value that begins there, whatever it is. */
function skipAt(start: usize, depth: u32): usize {
  const byte = load<u8>(start);
  if (byte === MINUS) return <u32>load<u8>(start + 1) - ZERO <= 9 ? numberAt(start + 1, IGNORED) : 0;
  if (byte !== OPEN && byte !== OPEN_LIST) return valueAt(start, IGNORED);
  if (depth === DEEPEST) return 0;
  const close = byte === OPEN ? CLOSE : CLOSE_LIST;
  let at = spacesEnd(start + 1);
  if (load<u8>(at) === close) return at + 1;
  while (true) {
    if (byte === OPEN) {
      if (load<u8>(at) !== QUOTE) return 0;
      at = textAt(at + 1, IGNORED);
      if (at === 0) return 0;
      at = spacesEnd(at);
      if (load<u8>(at) !== COLON) return 0;
      at = spacesEnd(at + 1);
    }
    at = skipAt(at, depth + 1);
    if (at === 0) return 0;
    at = spacesEnd(at);
    const next = load<u8>(at);
    if (next === close) return at + 1;
    if (next !== COMMA) return 0;
    at = spacesEnd(at + 1);
  }
}

/** The key of a node that begins there, behind its quote. Lines mostly have the same keys in the same order. */
function keyAt(at: usize, previous: u32, node: usize): i32 {
  const next: usize = load<u32>(node + NEXT);
  const ats: usize = load<u32>(node + AT);
  const lengths: usize = load<u32>(node + LENGTHS);
  const likely = load<u32>(next + ((<usize>previous) << 2));
  if (likely !== 0) {
    const place = (<usize>likely - 1) << 2;
    const length = load<u32>(lengths + place);
    if (load<u8>(at + length) === QUOTE && equal(load<u32>(ats + place), at, length)) return <i32>likely - 1;
  }
  const end = plainEnd(at);
  if (load<u8>(end) !== QUOTE || end - at > LONGEST_KEY) return NO_KEY;
  const known = load<u32>(node + KNOWN);
  if (known === load<u32>(node + MOST_KEYS)) return NO_KEY;
  const key = idOf(load<u32>(node + ARENA), at, <u32>(end - at), hashStart, secret);
  if (key >= known) return UNKNOWN;
  store<u32>(ats + ((<usize>key) << 2), <u32>at);
  store<u32>(lengths + ((<usize>key) << 2), <u32>(end - at));
  store<u32>(next + ((<usize>previous) << 2), key + 1);
  return <i32>key;
}

/** Takes the value that begins there for the field; a pointer behind it, or 0 where the line is left. */
function valueAt(at: usize, field: i32): usize {
  const byte = load<u8>(at);
  if (byte === QUOTE) return textAt(at + 1, field);
  if (<u32>byte - ZERO <= 9) return numberAt(at, field);
  if (load<u32>(at) === 0x6c6c756e) return at + 4;
  if (field !== IGNORED) return 0;
  if (load<u32>(at) === 0x65757274) return at + 4;
  return load<u32>(at + 1) === 0x65736c61 && byte === 102 ? at + 5 : 0;
}

function textAt(at: usize, field: i32): usize {
  // Other numbers in quotes are rare.
  if (field >= 0 && field < NUMBER_COUNT) return field === TIME ? quotedTimeAt(at) : 0;
  const end = plainEnd(at);
  if (load<u8>(end) !== QUOTE) return 0;
  if (field === IGNORED) return end + 1;
  setRun(field, at, end);
  see(field);
  return end + 1;
}

function quotedTimeAt(at: usize): usize {
  let length = WITH_SECONDS;
  if (load<u8>(at + length) !== QUOTE) length = WITH_MILLISECONDS;
  if (load<u8>(at + length) !== QUOTE) return 0;
  const time = timeAt(at, length);
  // biome-ignore lint/suspicious/noGlobalIsNan: AssemblyScript has no other
  if (isNaN(time)) return 0;
  setNumber(TIME, time);
  return at + length + 1;
}

function numberAt(start: usize, field: i32): usize {
  let value: u64 = 0;
  let at = start;
  for (let digit = <u32>load<u8>(at) - ZERO; digit <= 9; digit = <u32>load<u8>(++at) - ZERO) value = value * 10 + digit;
  const whole = value;
  const length = at - start;
  if (length > MOST_DIGITS || (length > 1 && load<u8>(start) === <u8>ZERO)) return 0;
  let scale: f64 = 1;
  if (load<u8>(at) === DOT) {
    const digits = ++at;
    for (let digit = <u32>load<u8>(at) - ZERO; digit <= 9; digit = <u32>load<u8>(++at) - ZERO) {
      value = value * 10 + digit;
      scale *= 10;
    }
    if (at === digits) return 0;
    if (field === IGNORED) return at;
    if (field !== TIME) return 0;
    // Of two whole numbers that are exact the quotient is rounded once, as that of JSON is.
    if (length + (at - digits) > MOST_DIGITS) return longTimeAt(whole, digits, at);
  }
  if (field === IGNORED) return at;
  if (field >= NUMBER_COUNT) return 0;
  if (field === TIME) {
    const time = <f64>value / scale;
    if (time > 8.64e15) return 0;
    setNumber(TIME, Math.floor(time > 1e11 ? time : time * 1000));
    return at;
  }
  if ((field === PORT && value > 65535) || (field === STATUS && value > 999)) return 0;
  setNumber(field, <f64>value);
  return at;
}

/**
 * Takes seconds with more digits than are exact. Rounding, of the number and of its milliseconds, adds or takes less than
 * 30 microseconds, so that it can change the millisecond near a whole one only; such lines are left.
 */
function longTimeAt(seconds: u64, digits: usize, end: usize): usize {
  if (seconds >= MOST_SECONDS) return 0;
  let microseconds: u64 = 0;
  for (let place: usize = 0; place < 6; place++) {
    const at = digits + place;
    microseconds = microseconds * 10 + (at < end ? <u64>load<u8>(at) - ZERO : 0);
  }
  const rest = microseconds % 1000;
  if (rest < 30 || rest >= 970) return 0;
  setNumber(TIME, <f64>(seconds * 1000 + microseconds / 1000));
  return end;
}
