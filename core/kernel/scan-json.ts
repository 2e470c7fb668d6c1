import { equal, idOf } from './arena';
import { NEWLINE, newlineFrom, plainEnd, QUOTE, SPACE, spacesEnd, ZERO } from './bytes';
import { timeAt, WITH_MILLISECONDS, WITH_SECONDS } from './clock';
import { beginLine, beginLines, endLine, isFull, lineCount, see, seen, setNumber, setRun } from './lines';

/*
 * Flat JSON objects, a line each: texts in ASCII without escapes, whole numbers, `null`, `true` and `false`. The plain
 * scanner beside it is `core/src/log/block/json-scanner.ts`.
 */

const COLON: u8 = 58;
const COMMA: u8 = 44;
const DOT: u8 = 46;
const OPEN: u8 = 123;
const CLOSE: u8 = 125;
const RETURN: u8 = 13;

/** A number of up to this many digits is exact. */
const MOST_DIGITS: usize = 15;
/** Larger times are milliseconds. */
const MOST_SECONDS: u64 = 100_000_000_000;
const MOST_IGNORED: u32 = 64;
/** More distinct keys than this, and lines with new ones are left. */
const MOST_KEYS: u32 = 4096;

/** The fields that are numbers come first, in this order. */
const TIME: i32 = 0;
const PORT: i32 = 1;
const STATUS: i32 = 3;
const NUMBER_COUNT: i32 = 5;

/** The purpose of a key, beside the number of a field: its value is not read, or its line has to be left. */
const IGNORED: i32 = -1;
const LEFT: i32 = -2;

/** Of a key that is not known yet, or of a line that is left. */
const UNKNOWN: i32 = -1;
const NO_KEY: i32 = -2;

/** What is known of keys: the record of `ScanCalls` in `core/src/kernel/calls.ts`. */
let arena: usize = 0;
let known: u32 = 0;
let purposes: usize = 0;
/** By key + 1, and 0 for the first of a line: the key that came behind it last, plus one. */
let nextKeys: usize = 0;
/** By key, where it came last among the bytes at hand, how long it is, and the line that it was ignored in last. */
let keyAts: usize = 0;
let keyLengths: usize = 0;
let lastIgnored: usize = 0;
let ignored: usize = 0;
let ignoredEnds: usize = 0;
let ignoredRoom: u32 = 0;
let ignoredCount: u32 = 0;
let stamp: u32 = 0;
let unknown: usize = 0;
let hashStart: i32 = 0;
let secret: i32 = 0;

export function scanJson(
  bytes: usize,
  from: u32,
  length: u32,
  lines: usize,
  keys: usize,
  start: i32,
  spread: i32,
): u32 {
  beginLines(bytes, lines);
  arena = load<u32>(keys);
  known = load<u32>(keys + 4);
  purposes = load<u32>(keys + 8);
  nextKeys = load<u32>(keys + 12);
  keyAts = load<u32>(keys + 16);
  keyLengths = load<u32>(keys + 20);
  lastIgnored = load<u32>(keys + 24);
  ignored = load<u32>(keys + 28);
  ignoredEnds = load<u32>(keys + 32);
  ignoredRoom = load<u32>(keys + 36);
  stamp = load<u32>(keys + 40);
  hashStart = start;
  secret = spread;
  ignoredCount = 0;
  unknown = 0;
  memory.fill(nextKeys, 0, (<usize>known + 1) << 2);
  const end = bytes + length;
  let at = bytes + from;
  while (at < end && !isFull() && ignoredCount + MOST_IGNORED <= ignoredRoom) {
    stamp++;
    beginLine();
    const before = ignoredCount;
    let newline = objectAt(at);
    if (unknown !== 0) break;
    const isLeft = newline === 0;
    if (isLeft) {
      ignoredCount = before;
      newline = newlineFrom(at);
    }
    store<u32>(ignoredEnds + ((<usize>lineCount()) << 2), ignoredCount);
    endLine(newline, isLeft);
    at = newline + 1;
  }
  store<u32>(keys + 40, stamp);
  store<u32>(keys + 44, unknown === 0 ? 0 : <u32>(unknown - bytes));
  store<u32>(keys + 48, unknown === 0 ? 0 : <u32>(plainEnd(unknown) - unknown));
  return lineCount();
}

/** A pointer to the line feed behind the object; 0 where the line is left. */
function objectAt(start: usize): usize {
  if (load<u8>(start) !== OPEN) return 0;
  const before = ignoredCount;
  let at = start + 1;
  let named: u32 = 0;
  let previous: u32 = 0;
  while (true) {
    at = spacesEnd(at);
    if (load<u8>(at) !== QUOTE) return 0;
    const key = keyAt(at + 1, previous);
    if (key < 0) {
      if (key === UNKNOWN) unknown = at + 1;
      return 0;
    }
    previous = <u32>key + 1;
    at = spacesEnd(at + 2 + load<u32>(keyLengths + ((<usize>key) << 2)));
    if (load<u8>(at) !== COLON) return 0;
    const field = load<i32>(purposes + ((<usize>key) << 2));
    if (field === IGNORED) {
      if (ignoredCount - before === MOST_IGNORED) return 0;
      if (load<u32>(lastIgnored + ((<usize>key) << 2)) === stamp) return 0;
      store<u32>(lastIgnored + ((<usize>key) << 2), stamp);
      store<u32>(ignored + ((<usize>ignoredCount) << 2), <u32>key);
      ignoredCount++;
    } else {
      if (field === LEFT || (seen & (1 << field)) !== 0) return 0;
      named++;
    }
    at = valueAt(spacesEnd(at + 1), field);
    if (at === 0) return 0;
    at = spacesEnd(at);
    const byte = load<u8>(at++);
    if (byte === COMMA) continue;
    if (byte !== CLOSE) return 0;
    while (load<u8>(at) === SPACE || load<u8>(at) === RETURN) at++;
    return load<u8>(at) === NEWLINE && named > 0 ? at : 0;
  }
}

/** The key that begins there, behind its quote. Lines mostly have the same keys in the same order. */
function keyAt(at: usize, previous: u32): i32 {
  const likely = load<u32>(nextKeys + ((<usize>previous) << 2));
  if (likely !== 0) {
    const place = (<usize>likely - 1) << 2;
    const length = load<u32>(keyLengths + place);
    if (load<u8>(at + length) === QUOTE && equal(load<u32>(keyAts + place), at, length)) return <i32>likely - 1;
  }
  const end = plainEnd(at);
  if (load<u8>(end) !== QUOTE) return NO_KEY;
  if (known === MOST_KEYS) return NO_KEY;
  const key = idOf(arena, at, <u32>(end - at), hashStart, secret);
  if (key >= known) return UNKNOWN;
  store<u32>(keyAts + ((<usize>key) << 2), <u32>at);
  store<u32>(keyLengths + ((<usize>key) << 2), <u32>(end - at));
  store<u32>(nextKeys + ((<usize>previous) << 2), key + 1);
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
