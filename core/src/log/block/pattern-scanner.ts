import { parseTime } from '../../text/time.js';
import { readClock } from '../read/combined.js';
import { fieldNumber, LineFields, NUMBER_COUNT, TIME } from './line-fields.js';
import { CALLED, SKIPPED, type Step, takesTunnels } from './pattern-steps.js';

const SPACE = 32;
const QUOTE = 34;
const DASH = 45;
const SLASH = 47;
const COLON = 58;
const MOST_PORT = 65_535;
const BACKSLASH = 92;
const COMMA = 44;
const DOT = 46;
const LETTER_T = 84;
const LETTER_Z = 90;
const NEWLINE = 10;
const ZERO = 48;
const NINE = 57;
const LEFT_LINE = -1;
const MOST_DIGITS = 15;
const MOST_FRACTION = 9;
const LONGEST_METHOD = 32;
const CLOCK = 26;
const LOCAL = 19;
/** The largest value of each number; times are read elsewhere. */
const MOST: readonly number[] = [0, 65535, Number.MAX_SAFE_INTEGER, 999, Number.MAX_SAFE_INTEGER];
const [METHOD, PATH, PROTOCOL, HOST] = (['method', 'path', 'protocol', 'host'] as const).map(fieldNumber) as [
  number,
  number,
  number,
  number,
];

/**
 * Finds the fields of lines of a pattern. Takes lines in ASCII, without escapes and with single blanks, whose time is in
 * one of the usual forms; it leaves all others, faulty ones too, to who reads any line.
 */
export class PatternScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  readonly #steps: readonly Step[];
  readonly #takesTunnels: boolean;
  /** Where the last minute was read, its length, and the instant that it is. */
  #known = -1;
  #knownLength = 0;
  #minute = Number.NaN;

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array, steps: readonly Step[]) {
    this.#bytes = bytes;
    this.#steps = steps;
    this.#takesTunnels = takesTunnels(steps);
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    const steps = this.#steps;
    fields.seen = 0;
    fields.none = 0;
    let at = start;
    for (let number = 0; number < steps.length; number++) {
      const step = steps[number] as Step;
      if (step.text !== undefined) {
        if (!this.#isAt(step.text, at)) return LEFT_LINE;
        at += step.text.length;
        // Any number of blanks stands for one.
        if (bytes[at] === SPACE && bytes[at - 1] === SPACE) return LEFT_LINE;
      } else {
        at = this.#field(at, step, steps[number + 1]?.text);
        if (at < 0) return LEFT_LINE;
      }
    }
    return bytes[at] === NEWLINE ? at : LEFT_LINE;
  }

  #isAt(text: Uint8Array, at: number): boolean {
    const bytes = this.#bytes;
    for (let place = 0; place < text.length; place++) if (bytes[at + place] !== text[place]) return false;
    return true;
  }

  /** Takes the field that begins there; answers where it ends, or below 0 where the line has to be left. */
  #field(start: number, { field, quoted }: Step, next: Uint8Array | undefined): number {
    if (field === TIME) return this.#time(start, next);
    const end = this.#endOf(start, quoted, next);
    if (end < 0 || field === SKIPPED) return end;
    if (field === CALLED) return this.#called(start, end) ? end : LEFT_LINE;
    if (field < NUMBER_COUNT) return this.#number(start, end, field) ? end : LEFT_LINE;
    this.#set(field, start, end);
    return end;
  }

  /** Where the text behind a field first comes; below 0 where it does not, or a byte has to be left. */
  #endOf(start: number, quoted: boolean, next: Uint8Array | undefined): number {
    const bytes = this.#bytes;
    const first = quoted ? QUOTE : next === undefined ? NEWLINE : (next[0] as number);
    let at = start;
    for (let byte = bytes[at] as number; ; byte = bytes[++at] as number) {
      if (byte === first && (quoted || next === undefined || this.#isAt(next, at))) break;
      // A line feed ends the line before the field has ended.
      if (byte < SPACE || byte >= 127 || byte === BACKSLASH) return LEFT_LINE;
      if (byte === SPACE && bytes[at - 1] === SPACE && at > start) return LEFT_LINE;
    }
    // Blanks around a value are no part of it, or are many for one.
    if (at > start && (bytes[at - 1] === SPACE || bytes[start] === SPACE)) return LEFT_LINE;
    return at;
  }

  #set(field: number, start: number, end: number): void {
    const { fields } = this;
    fields.starts[field] = start;
    fields.ends[field] = end;
    fields.seen |= 1 << field;
  }

  #number(start: number, end: number, field: number): boolean {
    const { fields } = this;
    const bytes = this.#bytes;
    if (end === start || (end - start === 1 && bytes[start] === DASH)) return true;
    if (end - start > MOST_DIGITS) return false;
    let value = 0;
    for (let at = start; at < end; at++) {
      const byte = bytes[at] as number;
      if (byte < ZERO || byte > NINE) return false;
      value = value * 10 + byte - ZERO;
    }
    if (value > (MOST[field] as number)) return false;
    fields.numbers[field] = value;
    fields.seen |= 1 << field;
    return true;
  }

  /** `METHOD /target PROTOCOL`; other request lines are left. */
  #called(start: number, end: number): boolean {
    const bytes = this.#bytes;
    let at = start;
    for (let byte = bytes[at] as number; byte !== SPACE; byte = bytes[++at] as number) {
      if (byte < 65 || byte > 90 || at >= end) return false;
    }
    if (at === start || at - start > LONGEST_METHOD) return false;
    const isConnect = at - start === CONNECT.length && this.#isAt(CONNECT, start);
    this.#set(METHOD, start, at);
    const target = at + 1;
    for (at = target; at < end && bytes[at] !== SPACE; ) at++;
    if (at >= end || (isConnect ? !this.#isTunnel(target, at) : bytes[target] !== SLASH)) return false;
    this.#set(isConnect ? HOST : PATH, target, at);
    const protocol = at + 1;
    const digits = end - protocol - HTTP.length;
    if (digits < 1 || digits > 4 || !this.#isAt(HTTP, protocol)) return false;
    for (at = protocol; at < end; at++) {
      const byte = bytes[at] as number;
      if (at >= protocol + HTTP.length && byte !== 46 && (byte < ZERO || byte > NINE)) return false;
    }
    this.#set(PROTOCOL, protocol, end);
    return true;
  }

  /** `host:port`, which is all that a tunnel shows. */
  #isTunnel(start: number, end: number): boolean {
    const bytes = this.#bytes;
    if (!this.#takesTunnels) return false;
    let at = end;
    let port = 0;
    for (let scale = 1; at > start && (bytes[at - 1] as number) >= ZERO && (bytes[at - 1] as number) <= NINE; at--) {
      port += ((bytes[at - 1] as number) - ZERO) * scale;
      scale *= 10;
    }
    if (at === end || end - at > 5 || port > MOST_PORT || bytes[at - 1] !== COLON || at - 1 === start) return false;
    for (let host = start; host < at - 1; host++) if (bytes[host] === SLASH || bytes[host] === COLON) return false;
    return true;
  }

  /**
   * A time in RFC 3339 of UTC, without a zone, or as in the combined format; all but the seconds, and what is behind them,
   * repeat from line to line.
   */
  #time(start: number, next: Uint8Array | undefined): number {
    const bytes = this.#bytes;
    const isClock = bytes[start + 2] === SLASH;
    const secondsAt = isClock ? 18 : 17;
    let end = start + (isClock ? CLOCK : LOCAL);
    let fraction = 0;
    if (!isClock) {
      if (bytes[start + 10] !== LETTER_T && bytes[start + 10] !== SPACE) return LEFT_LINE;
      const mark = bytes[end];
      if (mark === DOT || mark === COMMA) {
        const digits = ++end;
        for (let scale = 100; isDigit(bytes[end] as number); end++, scale = Math.floor(scale / 10))
          fraction += ((bytes[end] as number) - ZERO) * scale;
        if (end === digits || end - digits > MOST_FRACTION) return LEFT_LINE;
      }
      if (bytes[end] === LETTER_Z) {
        if (mark === COMMA) return LEFT_LINE;
        end++;
      } else if (this.#isOffset(bytes[end] === SPACE ? end + 1 : end)) return LEFT_LINE;
    }
    // Whatever else follows, such as an offset, is a part of the time, or of another form.
    if (next === undefined ? bytes[end] !== NEWLINE : !this.#isAt(next, end)) return LEFT_LINE;
    if (!this.#isKnown(start, secondsAt, isClock)) this.#learn(start, secondsAt, isClock);
    const [tens, ones] = [(bytes[start + secondsAt] as number) - ZERO, (bytes[start + secondsAt + 1] as number) - ZERO];
    if (!(tens >= 0 && tens <= 5 && ones >= 0 && ones <= 9)) return LEFT_LINE;
    if (Number.isNaN(this.#minute)) return LEFT_LINE;
    this.fields.numbers[TIME] = this.#minute + (tens * 10 + ones) * 1000 + fraction;
    this.fields.seen |= 1 << TIME;
    return end;
  }

  /** Whether an offset or a Z may begin there. */
  #isOffset(at: number): boolean {
    const [sign, digit] = [this.#bytes[at] as number, this.#bytes[at + 1] as number];
    if ((sign | 32) === 122) return true;
    return (sign === 43 || sign === DASH) && isDigit(digit);
  }

  #isKnown(start: number, secondsAt: number, isClock: boolean): boolean {
    const bytes = this.#bytes;
    const known = this.#known;
    const length = isClock ? CLOCK : secondsAt;
    if (known < 0 || this.#knownLength !== length) return false;
    for (let at = 0; at < length; at++)
      if (at !== secondsAt && at !== secondsAt + 1 && bytes[known + at] !== bytes[start + at]) return false;
    return true;
  }

  #learn(start: number, secondsAt: number, isClock: boolean): void {
    const length = isClock ? CLOCK : secondsAt;
    const text = String.fromCharCode(...this.#bytes.subarray(start, start + length));
    const minute = isClock
      ? readClock(`${text.slice(0, 18)}00${text.slice(20)}`)
      : parseTime(`${text.slice(0, 10)}T${text.slice(11)}00Z`);
    this.#minute = minute ?? Number.NaN;
    this.#known = start;
    this.#knownLength = length;
  }
}

const isDigit = (byte: number): boolean => byte >= ZERO && byte <= NINE;

const HTTP = new TextEncoder().encode('HTTP/');
const CONNECT = new TextEncoder().encode('CONNECT');
