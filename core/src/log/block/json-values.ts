import { MOST_SECONDS } from '../read/request-fields.js';
import { BlockClock, WITH_MILLISECONDS, WITH_SECONDS } from './clock.js';
import { IGNORED } from './json-tree.js';
import { type LineFields, NUMBER_COUNT, TIME } from './line-fields.js';

const QUOTE = 34;
const COLON = 58;
const COMMA = 44;
const DOT = 46;
const MINUS = 45;
const OPEN = 123;
const CLOSE = 125;
const OPEN_LIST = 91;
const CLOSE_LIST = 93;
const SPACE = 32;
const BACKSLASH = 92;
const ZERO = 48;
const NINE = 57;
/** A number of up to this many digits is exact. */
const MOST_DIGITS = 15;
const DEEPEST = 32;
/** Bytes that texts have as they are: ASCII, but for control characters, quotes and escapes. */
const PLAIN = Uint8Array.from({ length: 256 }, (_, byte) =>
  byte >= SPACE && byte < 128 && byte !== QUOTE && byte !== BACKSLASH ? 1 : 0,
);
/** The largest value of each number; times are read elsewhere. */
const MOST: readonly number[] = [0, 65535, Number.MAX_SAFE_INTEGER, 999, Number.MAX_SAFE_INTEGER];

/** Takes values of JSON from bytes into the fields of a line. Each method answers where the value ends, or below 0. */
export class JsonValues {
  readonly #bytes: Uint8Array;
  readonly #fields: LineFields;
  readonly #clock: BlockClock;

  constructor(bytes: Uint8Array, fields: LineFields) {
    this.#bytes = bytes;
    this.#fields = fields;
    this.#clock = new BlockClock(bytes);
  }

  /** Takes the value that begins there for the field; one that is `IGNORED` may be a text, a number or a word. */
  take(start: number, field: number): number {
    const byte = this.#bytes[start] as number;
    if (byte === QUOTE) return this.#text(start + 1, field);
    if (byte >= ZERO && byte <= NINE) return this.#number(start, field);
    if (byte === 110) return this.#word(start, NULL);
    if (field !== IGNORED) return -1;
    return byte === 116 ? this.#word(start, TRUE) : byte === 102 ? this.#word(start, FALSE) : -1;
  }

  /** Passes by the value that begins there, whatever it is. */
  skip(start: number, depth = 0): number {
    const bytes = this.#bytes;
    const byte = bytes[start] as number;
    if (byte === MINUS) return this.#number(start + 1, IGNORED);
    if (byte !== OPEN && byte !== OPEN_LIST) return this.take(start, IGNORED);
    if (depth === DEEPEST) return -1;
    const close = byte === OPEN ? CLOSE : CLOSE_LIST;
    let at = this.blanks(start + 1);
    if (bytes[at] === close) return at + 1;
    for (;;) {
      if (byte === OPEN) {
        if (bytes[at] !== QUOTE) return -1;
        at = this.blanks(this.#text(at + 1, IGNORED));
        if (at < 0 || bytes[at] !== COLON) return -1;
        at = this.blanks(at + 1);
      }
      at = this.skip(at, depth + 1);
      if (at < 0) return -1;
      at = this.blanks(at);
      if (bytes[at] === close) return at + 1;
      if (bytes[at] !== COMMA) return -1;
      at = this.blanks(at + 1);
    }
  }

  /** The first byte from there on that is no blank. */
  blanks(start: number): number {
    let at = start;
    while (this.#bytes[at] === SPACE) at++;
    return at;
  }

  #text(start: number, field: number): number {
    const bytes = this.#bytes;
    // Other numbers in quotes are rare.
    if (field >= 0 && field < NUMBER_COUNT) return field === TIME ? this.#time(start) : -1;
    let at = start;
    while (PLAIN[bytes[at] as number] === 1) at++;
    if (bytes[at] !== QUOTE) return -1;
    if (field === IGNORED) return at + 1;
    const fields = this.#fields;
    fields.starts[field] = start;
    fields.ends[field] = at;
    fields.seen |= 1 << field;
    return at + 1;
  }

  /** The clock looks at every byte of a time, so that its end is looked for where the two lengths put it. */
  #time(start: number): number {
    let at = start + WITH_SECONDS;
    if (this.#bytes[at] !== QUOTE) at = start + WITH_MILLISECONDS;
    if (this.#bytes[at] !== QUOTE) return -1;
    const time = this.#clock.read(start, at);
    if (Number.isNaN(time)) return -1;
    this.#see(TIME, time);
    return at + 1;
  }

  #number(start: number, field: number): number {
    const bytes = this.#bytes;
    let value = 0;
    let at = start;
    for (let byte = bytes[at] as number; byte >= ZERO && byte <= NINE; byte = bytes[++at] as number)
      value = value * 10 + byte - ZERO;
    if (at === start || at - start > MOST_DIGITS || (at - start > 1 && bytes[start] === ZERO)) return -1;
    if (bytes[at] === DOT) {
      const digits = ++at;
      while ((bytes[at] as number) >= ZERO && (bytes[at] as number) <= NINE) at++;
      if (at === digits) return -1;
      if (field === IGNORED) return at;
      if (field !== TIME) return -1;
      // Seconds with a fraction, which are rounded as JSON's are.
      value = Number(String.fromCharCode(...bytes.subarray(start, at)));
    }
    if (field === IGNORED) return at;
    if (field >= NUMBER_COUNT) return -1;
    if (field === TIME) {
      if (value > 8.64e15) return -1;
      this.#see(TIME, Math.floor(value > MOST_SECONDS ? value : value * 1000));
      return at;
    }
    if (value > (MOST[field] as number)) return -1;
    this.#see(field, value);
    return at;
  }

  #see(field: number, value: number): void {
    this.#fields.numbers[field] = value;
    this.#fields.seen |= 1 << field;
  }

  #word(start: number, word: readonly number[]): number {
    for (let at = 0; at < word.length; at++) if (this.#bytes[start + at] !== word[at]) return -1;
    return start + word.length;
  }
}

const codes = (word: string): number[] => [...word].map((character) => character.charCodeAt(0));
const [NULL, TRUE, FALSE] = [codes('null'), codes('true'), codes('false')] as [number[], number[], number[]];
