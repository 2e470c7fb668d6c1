import { equal } from './arena';
import { BACKSLASH, NEWLINE, QUOTE, SPACE, ZERO } from './bytes';
import { CLOCK, clockAt, secondsAt } from './clock';
import { HOST, METHOD, NUMBER_COUNT, PATH, PORT, PROTOCOL, STATUS, TIME } from './fields';
import { beginLine, beginLines, endLine, isFull, lineCount, see, setNumber, setRun } from './lines';
import { isConnect, isProtocol, LONGEST_METHOD } from './request-line';

/*
 * Lines of text by a pattern, in ASCII without escapes and with single blanks, whose times are in one of the usual forms.
 * The plain scanner beside it is `core/src/log/block/pattern-scanner.ts`.
 */

const DASH: u8 = 45;
const DOT: u8 = 46;
const COMMA: u8 = 44;
const SLASH: u8 = 47;
const COLON: u8 = 58;
const PLUS: u8 = 43;
const LETTER_T: u8 = 84;
const LETTER_Z: u8 = 90;
/** OR a letter of ASCII with this for its lower case. */
const LOWER: u8 = 32;
const MOST_DIGITS: usize = 15;
const MOST_FRACTION: usize = 9;
/** How long a day and a clock are. */
const LOCAL: usize = 19;

/** What a field is beside the number of one: not looked at, or a request line. */
const SKIPPED: i32 = -1;
const CALLED: i32 = -2;

/** A step, as `ScanCalls` in `core/src/kernel/calls.ts` describes it. */
const TEXT: usize = 0;
const LENGTH: usize = 4;
const FIELD: usize = 8;
const QUOTED: usize = 12;
const STEP: usize = 16;

let firstStep: usize = 0;
let stepsEnd: usize = 0;
let takesTunnels: bool = false;

export function scanPattern(
  bytes: usize,
  from: u32,
  length: u32,
  lines: usize,
  steps: usize,
  count: u32,
  tunnels: u32,
): u32 {
  beginLines(bytes, lines);
  firstStep = steps;
  stepsEnd = steps + <usize>count * STEP;
  takesTunnels = tunnels !== 0;
  const end = bytes + length;
  let at = bytes + from;
  while (at < end && !isFull()) {
    beginLine();
    at = endLine(at, lineAt(at));
  }
  return lineCount();
}

/** A pointer to the line feed; 0 where the line is left. */
function lineAt(start: usize): usize {
  let at = start;
  for (let step = firstStep; step < stepsEnd; step += STEP) {
    if (load<u32>(step + TEXT) !== 0) {
      if (!isTextAt(step, at)) return 0;
      at += load<u32>(step + LENGTH);
      // Any number of blanks stands for one.
      if (load<u8>(at) === SPACE && load<u8>(at - 1) === SPACE) return 0;
    } else {
      const next = step + STEP;
      at = fieldAt(at, step, next < stepsEnd && load<u32>(next + TEXT) !== 0 ? next : 0);
      if (at === 0) return 0;
    }
  }
  return load<u8>(at) === NEWLINE ? at : 0;
}

function isTextAt(step: usize, at: usize): bool {
  return equal(load<u32>(step + TEXT), at, load<u32>(step + LENGTH));
}

/** Takes the field that begins there; a pointer to where it ends, or 0 where the line is left. */
function fieldAt(start: usize, step: usize, next: usize): usize {
  const field = load<i32>(step + FIELD);
  if (field === TIME) return fieldTimeAt(start, next);
  const end = endOf(start, load<u32>(step + QUOTED) !== 0, next);
  if (end === 0 || field === SKIPPED) return end;
  if (field === CALLED) return isCalled(start, end) ? end : 0;
  if (field < NUMBER_COUNT) return isNumber(start, end, field) ? end : 0;
  setRun(field, start, end);
  see(field);
  return end;
}

/** Where the text behind a field first comes; 0 where it does not, or the line has to be left. */
function endOf(start: usize, isQuoted: bool, next: usize): usize {
  const first: u8 = isQuoted ? QUOTE : next === 0 ? NEWLINE : load<u8>(load<u32>(next + TEXT));
  let at = stopFrom(start, first);
  while (true) {
    const byte = load<u8>(at);
    if (byte === first && (isQuoted || next === 0 || isTextAt(next, at))) break;
    // A line feed ends the line before the field has ended.
    if (byte < SPACE || byte >= 127 || byte === BACKSLASH) return 0;
    if (byte === SPACE && at > start && load<u8>(at - 1) === SPACE) return 0;
    at = stopFrom(at + 1, first);
  }
  // Blanks around a value are no part of it, or are many for one.
  return at > start && (load<u8>(at - 1) === SPACE || load<u8>(start) === SPACE) ? 0 : at;
}

/** A pointer to the next byte that is this one, a blank, a backslash, or no visible character of ASCII. */
function stopFrom(from: usize, first: u8): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const marks = v128.or(i8x16.eq(bytes, i8x16.splat(first)), i8x16.eq(bytes, i8x16.splat(BACKSLASH)));
    const others = i8x16.ge_u(i8x16.sub(bytes, i8x16.splat(SPACE + 1)), i8x16.splat(94));
    const stops = i8x16.bitmask(v128.or(marks, others));
    if (stops !== 0) return at + <usize>ctz(stops);
    at += 16;
  }
}

function isNumber(start: usize, end: usize, field: i32): bool {
  const length = end - start;
  if (length === 0 || (length === 1 && load<u8>(start) === DASH)) return true;
  if (length > MOST_DIGITS) return false;
  let value: u64 = 0;
  for (let at = start; at < end; at++) {
    const digit = <u32>load<u8>(at) - ZERO;
    if (digit > 9) return false;
    value = value * 10 + digit;
  }
  if ((field === PORT && value > 65535) || (field === STATUS && value > 999)) return false;
  setNumber(field, <f64>value);
  return true;
}

/** `METHOD /target PROTOCOL`; other request lines are left. */
function isCalled(start: usize, end: usize): bool {
  let at = start;
  while (at < end && <u32>load<u8>(at) - 65 <= 25) at++;
  const method = at - start;
  if (method === 0 || method > LONGEST_METHOD || at === end || load<u8>(at) !== SPACE) return false;
  const tunnel = isConnect(start, method);
  const target = at + 1;
  at = target;
  while (at < end && load<u8>(at) !== SPACE) at++;
  if (at >= end || (tunnel ? !isTunnel(target, at) : load<u8>(target) !== SLASH)) return false;
  const protocol = at + 1;
  if (!isProtocol(protocol, end)) return false;
  setRun(METHOD, start, start + method);
  see(METHOD);
  setRun(tunnel ? HOST : PATH, target, at);
  see(tunnel ? HOST : PATH);
  setRun(PROTOCOL, protocol, end);
  see(PROTOCOL);
  return true;
}

/** `host:port`, which is all that a tunnel shows. */
function isTunnel(start: usize, end: usize): bool {
  if (!takesTunnels) return false;
  let at = end;
  let port: u32 = 0;
  let scale: u32 = 1;
  while (at > start && end - at < 6 && <u32>load<u8>(at - 1) - ZERO <= 9) {
    at--;
    port += (<u32>load<u8>(at) - ZERO) * scale;
    scale *= 10;
  }
  if (at === end || end - at > 5 || port > 65535 || at - 1 <= start || load<u8>(at - 1) !== COLON) return false;
  for (let host = start; host < at - 1; host++) if (load<u8>(host) === SLASH || load<u8>(host) === COLON) return false;
  return true;
}

/** A time of UTC as logs mostly have it, or as in the combined format. Whatever else follows makes it another form. */
function fieldTimeAt(start: usize, next: usize): usize {
  let end = start;
  let time: f64 = 0;
  if (load<u8>(start + 2) === SLASH) {
    end += CLOCK;
    time = clockAt(start);
  } else {
    const between = load<u8>(start + 10);
    if (between !== LETTER_T && between !== SPACE) return 0;
    end += LOCAL;
    time = secondsAt(start);
    const mark = load<u8>(end);
    if (mark === DOT || mark === COMMA) {
      const digits = ++end;
      let scale: u32 = 100;
      for (let digit = <u32>load<u8>(end) - ZERO; digit <= 9; digit = <u32>load<u8>(++end) - ZERO) {
        time += <f64>(digit * scale);
        scale /= 10;
      }
      if (end === digits || end - digits > MOST_FRACTION) return 0;
    }
    if (load<u8>(end) === LETTER_Z) {
      if (mark === COMMA) return 0;
      end++;
    } else if (isOffset(load<u8>(end) === SPACE ? end + 1 : end)) return 0;
  }
  if (next === 0 ? load<u8>(end) !== NEWLINE : !isTextAt(next, end)) return 0;
  // biome-ignore lint/suspicious/noGlobalIsNan: AssemblyScript has no other
  if (isNaN(time)) return 0;
  setNumber(TIME, time);
  return end;
}

/** Whether an offset or a Z may begin there. */
function isOffset(at: usize): bool {
  const sign = load<u8>(at);
  if ((sign | LOWER) === (LETTER_Z | LOWER)) return true;
  return (sign === PLUS || sign === DASH) && <u32>load<u8>(at + 1) - ZERO <= 9;
}
