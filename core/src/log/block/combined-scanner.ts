import { readClock } from '../read/combined.js';
import { fieldNumber, LineFields } from './line-fields.js';

const SPACE = 32;
const QUOTE = 34;
const BACKSLASH = 92;
const OPEN = 91;
const CLOSE = 93;
const DASH = 45;
const SLASH = 47;
const COLON = 58;
const NEWLINE = 10;
const RETURN = 13;
const ZERO = 48;
const NINE = 57;
const LEFT_LINE = -1;
const MOST_DIGITS = 15;
/** `10/Oct/2026:13:55:36 +0100` */
const CLOCK = 26;
const LONGEST_METHOD = 32;

const [TIME, STATUS, BYTES] = (['time', 'status', 'bytes'] as const).map(fieldNumber) as [number, number, number];
const [PEER, HOST, USER, METHOD, PATH, PROTOCOL, REFERRER, AGENT] = (
  ['peer', 'host', 'user', 'method', 'path', 'protocol', 'referrer', 'agent'] as const
).map(fieldNumber) as [number, number, number, number, number, number, number, number];

/**
 * Finds the fields of lines of the common and combined log formats. Takes the lines that most logs have, in ASCII
 * without escapes, whose target is a path; it leaves all others, faulty ones too, to who reads any line.
 */
export class CombinedScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  /** Where the last minute was read, and the instant that it is. */
  #known = -1;
  #minute = Number.NaN;

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array) {
    this.#bytes = bytes;
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    fields.seen = 0;
    fields.none = 0;
    let at = this.#who(start);
    if (at < 0 || bytes[at] !== OPEN) return LEFT_LINE;
    const time = this.#clock(at + 1);
    if (Number.isNaN(time) || bytes[at + CLOCK + 1] !== CLOSE || bytes[at + CLOCK + 2] !== SPACE) return LEFT_LINE;
    fields.numbers[TIME] = time;
    fields.seen |= 1 << TIME;
    at = this.#called(at + CLOCK + 3);
    if (at < 0) return LEFT_LINE;
    at = this.#number(at, STATUS, 3);
    if (at < 0 || bytes[at++] !== SPACE) return LEFT_LINE;
    at = this.#number(at, BYTES, MOST_DIGITS);
    if (at < 0) return LEFT_LINE;
    if (bytes[at] === SPACE && bytes[at + 1] === QUOTE) {
      at = this.#quoted(at + 2, REFERRER);
      if (at < 0 || bytes[at] !== SPACE || bytes[at + 1] !== QUOTE) return LEFT_LINE;
      at = this.#quoted(at + 2, AGENT);
      if (at < 0) return LEFT_LINE;
    }
    if (bytes[at] === RETURN) at++;
    return bytes[at] === NEWLINE ? at : LEFT_LINE;
  }

  /** `host? peer ident user `; returns the offset behind them. */
  #who(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    let words = 0;
    let at = start;
    while (bytes[at] !== OPEN) {
      if (words === WHO.length) return LEFT_LINE;
      const end = this.#word(at);
      if (end < 0 || bytes[end] !== SPACE) return LEFT_LINE;
      fields.starts[WHO[words] as number] = at;
      fields.ends[WHO[words++] as number] = end;
      at = end + 1;
    }
    // Without a host in front, all fields are one place further left.
    if (words === WHO.length - 1) {
      for (let word = words; word > 0; word--) this.#copy(WHO[word - 1] as number, WHO[word] as number);
    } else if (words !== WHO.length || this.#isDash(PEER)) return LEFT_LINE;
    else this.#see(HOST);
    this.#see(PEER);
    this.#seeOrNone(USER);
    return at;
  }

  /** `METHOD target PROTOCOL" `; returns the offset behind it. */
  #called(start: number): number {
    const bytes = this.#bytes;
    if (bytes[start] !== QUOTE) return LEFT_LINE;
    const method = this.#word(start + 1);
    if (method < 0 || bytes[method] !== SPACE || method - start > LONGEST_METHOD) return LEFT_LINE;
    for (let at = start + 1; at < method; at++) {
      const byte = bytes[at] as number;
      if (byte < 65 || byte > 90) return LEFT_LINE;
    }
    const target = this.#word(method + 1);
    if (target < 0 || bytes[target] !== SPACE) return LEFT_LINE;
    // Another target than a path is rare, but for tunnels.
    const tunnel = this.#isTunnel(start + 1, method, target);
    if (!tunnel && bytes[method + 1] !== SLASH) return LEFT_LINE;
    const end = this.#word(target + 1);
    if (end < 0 || bytes[end] !== QUOTE || bytes[end + 1] !== SPACE) return LEFT_LINE;
    if (!this.#isProtocol(target + 1, end)) return LEFT_LINE;
    this.#set(PROTOCOL, target + 1, end);
    this.#set(METHOD, start + 1, method);
    this.#set(tunnel ? HOST : PATH, method + 1, target);
    return end + 2;
  }

  /** Whether it is a tunnel to the host in front of the line, or to any where there is none in front. */
  #isTunnel(start: number, method: number, target: number): boolean {
    const bytes = this.#bytes;
    if (!this.#equals(CONNECT, start, method)) return false;
    if ((this.fields.seen & (1 << HOST)) === 0) return true;
    const [from, to] = [this.fields.starts[HOST] as number, this.fields.ends[HOST] as number];
    const length = to - from;
    for (let at = 0; at < length; at++) if (bytes[from + at] !== bytes[method + 1 + at]) return false;
    return method + 1 + length < target && bytes[method + 1 + length] === COLON;
  }

  #equals(word: readonly number[], start: number, end: number): boolean {
    if (end - start !== word.length) return false;
    for (let at = 0; at < word.length; at++) if (this.#bytes[start + at] !== word[at]) return false;
    return true;
  }

  /** `HTTP/` and up to four digits and dots. */
  #isProtocol(start: number, end: number): boolean {
    const bytes = this.#bytes;
    const length = end - start - HTTP.length;
    if (length < 1 || length > 4) return false;
    if (!this.#equals(HTTP, start, start + HTTP.length)) return false;
    for (let at = start + HTTP.length; at < end; at++) {
      const byte = bytes[at] as number;
      if (byte !== 46 && (byte < ZERO || byte > NINE)) return false;
    }
    return true;
  }

  /** Where the word ends that begins there, at a space or quote; below 0 where it has to be left. */
  #word(start: number): number {
    const bytes = this.#bytes;
    let at = start;
    for (let byte = bytes[at] as number; byte !== SPACE && byte !== QUOTE; byte = bytes[++at] as number) {
      if (byte === BACKSLASH || byte < SPACE || byte >= 127) return LEFT_LINE;
    }
    return at > start ? at : LEFT_LINE;
  }

  /** Takes the quoted text that begins there; returns the offset behind its end. */
  #quoted(start: number, field: number): number {
    const bytes = this.#bytes;
    let at = start;
    for (let byte = bytes[at] as number; byte !== QUOTE; byte = bytes[++at] as number) {
      if (byte === BACKSLASH || byte < SPACE || byte >= 127) return LEFT_LINE;
    }
    this.#set(field, start, at);
    this.#seeOrNone(field);
    return at + 1;
  }

  #number(start: number, field: number, most: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    if (bytes[start] === DASH) return start + 1;
    let value = 0;
    let at = start;
    for (let byte = bytes[at] as number; byte >= ZERO && byte <= NINE; byte = bytes[++at] as number)
      value = value * 10 + byte - ZERO;
    if (at === start || at - start > most || (field === STATUS && at - start !== most)) return LEFT_LINE;
    fields.numbers[field] = value;
    fields.seen |= 1 << field;
    return at;
  }

  /** Milliseconds since 1970. All but the seconds repeat from line to line. */
  #clock(start: number): number {
    const bytes = this.#bytes;
    if (!this.#isKnown(start)) {
      const text = String.fromCharCode(...bytes.subarray(start, start + CLOCK));
      this.#minute = readClock(`${text.slice(0, 18)}00${text.slice(20)}`) ?? Number.NaN;
      this.#known = start;
    }
    const [tens, ones] = [(bytes[start + 18] as number) - ZERO, (bytes[start + 19] as number) - ZERO];
    return tens >= 0 && tens <= 5 && ones >= 0 && ones <= 9 ? this.#minute + (tens * 10 + ones) * 1000 : Number.NaN;
  }

  #isKnown(start: number): boolean {
    const bytes = this.#bytes;
    const known = this.#known;
    if (known < 0) return false;
    for (let at = 0; at < CLOCK; at++)
      if (at !== 18 && at !== 19 && bytes[known + at] !== bytes[start + at]) return false;
    return true;
  }

  #set(field: number, start: number, end: number): void {
    const { fields } = this;
    fields.starts[field] = start;
    fields.ends[field] = end;
    fields.seen |= 1 << field;
  }

  #copy(from: number, to: number): void {
    const { starts, ends } = this.fields;
    starts[to] = starts[from] as number;
    ends[to] = ends[from] as number;
  }

  #isDash(field: number): boolean {
    const start = this.fields.starts[field] as number;
    return (this.fields.ends[field] as number) - start === 1 && this.#bytes[start] === DASH;
  }

  #see(field: number): void {
    this.fields.seen |= 1 << field;
  }

  /** The format always has the field, so that a `-` or nothing says that there is known to be none. */
  #seeOrNone(field: number): void {
    const { fields } = this;
    const start = fields.starts[field] as number;
    const end = fields.ends[field] as number;
    if (end === start || (end - start === 1 && this.#bytes[start] === DASH)) fields.none |= 1 << field;
    else fields.seen |= 1 << field;
  }
}

/** The words in front of the time; the one behind the peer is no field of ours. */
const IDENT = fieldNumber('referrer');
const WHO = [HOST, PEER, IDENT, USER];
const codes = (word: string): number[] => [...word].map((character) => character.charCodeAt(0));
const [HTTP, CONNECT] = [codes('HTTP/'), codes('CONNECT')] as [number[], number[]];
