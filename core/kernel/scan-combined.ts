import { equal } from './arena';
import { NEWLINE, QUOTE, quotedEnd, SPACE, wordEnd, ZERO } from './bytes';
import { CLOCK, clockAt } from './clock';
import { AGENT, BYTES, HOST, METHOD, PATH, PEER, PROTOCOL, REFERRER, STATUS, TIME, USER } from './fields';
import {
  beginLine,
  beginLines,
  endLine,
  isFull,
  lengthOf,
  lineCount,
  see,
  seeNone,
  seen,
  setNumber,
  setRun,
  startOf,
} from './lines';
import { isConnect, isProtocol, LONGEST_METHOD } from './request-line';

/*
 * Lines of the common and combined log formats, in ASCII without escapes, whose target is a path. The plain scanner beside
 * it is `core/src/log/block/combined-scanner.ts`.
 */

const OPEN: u8 = 91;
const CLOSE: u8 = 93;
const DASH: u8 = 45;
const SLASH: u8 = 47;
const COLON: u8 = 58;
const RETURN: u8 = 13;
const MOST_DIGITS: usize = 15;

/** The word behind the peer is no field of ours; another takes its room meanwhile. */
const IDENT: i32 = REFERRER;

export function scanCombined(bytes: usize, from: u32, length: u32, lines: usize): u32 {
  beginLines(bytes, lines);
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
  let at = whoAt(start);
  if (at === 0 || load<u8>(at) !== OPEN) return 0;
  const time = clockAt(at + 1);
  // biome-ignore lint/suspicious/noGlobalIsNan: AssemblyScript has no other
  if (isNaN(time) || load<u8>(at + CLOCK + 1) !== CLOSE || load<u8>(at + CLOCK + 2) !== SPACE) return 0;
  setNumber(TIME, time);
  at = calledAt(at + CLOCK + 3);
  if (at === 0) return 0;
  at = numberAt(at, STATUS, 3);
  if (at === 0 || load<u8>(at++) !== SPACE) return 0;
  at = numberAt(at, BYTES, MOST_DIGITS);
  if (at === 0) return 0;
  if (load<u8>(at) === SPACE && load<u8>(at + 1) === QUOTE) {
    at = quotedAt(at + 2, REFERRER);
    if (at === 0 || load<u8>(at) !== SPACE || load<u8>(at + 1) !== QUOTE) return 0;
    at = quotedAt(at + 2, AGENT);
    if (at === 0) return 0;
  }
  if (load<u8>(at) === RETURN) at++;
  return load<u8>(at) === NEWLINE ? at : 0;
}

/** `host? peer ident user `: a pointer behind them. */
function whoAt(start: usize): usize {
  let words: u32 = 0;
  let at = start;
  while (load<u8>(at) !== OPEN) {
    if (words === 4) return 0;
    const end = wordEnd(at);
    if (end === at || load<u8>(end) !== SPACE) return 0;
    setRun(words === 0 ? HOST : words === 1 ? PEER : words === 2 ? IDENT : USER, at, end);
    words++;
    at = end + 1;
  }
  // Without a host in front, all fields are one place further left.
  if (words === 3) {
    copyRun(IDENT, USER);
    copyRun(HOST, PEER);
  } else if (words !== 4 || isDash(PEER)) return 0;
  else see(HOST);
  see(PEER);
  seeOrNone(USER);
  return at;
}

/** `"METHOD target PROTOCOL" `: a pointer behind it. */
function calledAt(start: usize): usize {
  if (load<u8>(start) !== QUOTE) return 0;
  const method = wordEnd(start + 1);
  if (method === start + 1 || load<u8>(method) !== SPACE || method - start > LONGEST_METHOD) return 0;
  for (let at = start + 1; at < method; at++) if (<u32>load<u8>(at) - 65 > 25) return 0;
  const target = wordEnd(method + 1);
  if (target === method + 1 || load<u8>(target) !== SPACE) return 0;
  // Another target than a path is rare, but for tunnels.
  const tunnel = isTunnel(start + 1, method, target);
  if (!tunnel && load<u8>(method + 1) !== SLASH) return 0;
  const end = wordEnd(target + 1);
  if (load<u8>(end) !== QUOTE || load<u8>(end + 1) !== SPACE || !isProtocol(target + 1, end)) return 0;
  setRun(PROTOCOL, target + 1, end);
  see(PROTOCOL);
  setRun(METHOD, start + 1, method);
  see(METHOD);
  setRun(tunnel ? HOST : PATH, method + 1, target);
  see(tunnel ? HOST : PATH);
  return end + 2;
}

/** Whether it is a tunnel to the host in front of the line, or to any where there is none in front. */
function isTunnel(start: usize, method: usize, target: usize): bool {
  if (!isConnect(start, method - start)) return false;
  if ((seen & (1 << HOST)) === 0) return true;
  const length = lengthOf(HOST);
  if (method + 1 + length >= target || load<u8>(method + 1 + length) !== COLON) return false;
  return equal(startOf(HOST), method + 1, length);
}

function quotedAt(start: usize, field: u32): usize {
  const end = quotedEnd(start);
  if (load<u8>(end) !== QUOTE) return 0;
  setRun(field, start, end);
  seeOrNone(field);
  return end + 1;
}

function numberAt(start: usize, field: u32, most: usize): usize {
  if (load<u8>(start) === DASH) return start + 1;
  let value: u64 = 0;
  let at = start;
  for (let digit = <u32>load<u8>(at) - ZERO; digit <= 9; digit = <u32>load<u8>(++at) - ZERO) value = value * 10 + digit;
  const length = at - start;
  if (length === 0 || length > most || (field === STATUS && length !== most)) return 0;
  setNumber(field, <f64>value);
  return at;
}

function copyRun(from: u32, to: u32): void {
  const start = startOf(from);
  setRun(to, start, start + lengthOf(from));
}

function isDash(field: u32): bool {
  return lengthOf(field) === 1 && load<u8>(startOf(field)) === DASH;
}

/** The format always has the field, so that a `-` or nothing says that there is known to be none. */
function seeOrNone(field: u32): void {
  if (lengthOf(field) === 0 || isDash(field)) seeNone(field);
  else see(field);
}
