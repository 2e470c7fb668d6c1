import { HASH_START, hashByte, TextArena } from '../../column/index.js';
import { isConventionalName } from '../read/names.js';
import { REQUEST_FIELDS } from '../read/request-fields.js';
import { BlockClock, WITH_MILLISECONDS, WITH_SECONDS } from './clock.js';
import { FIELDS, LineFields, NUMBER_COUNT, TIME } from './line-fields.js';

const QUOTE = 34;
const COLON = 58;
const COMMA = 44;
const OPEN = 123;
const CLOSE = 125;
const SPACE = 32;
const NEWLINE = 10;
const BACKSLASH = 92;
const RETURN = 13;
const ZERO = 48;
const NINE = 57;
/** A number of up to this many digits is exact. */
const MOST_DIGITS = 15;

/** The purpose of a key, beside the number of a field. */
const IGNORED = -1;
const LEFT = -2;
/** Answered for a line that is left. */
const LEFT_LINE = -1;
/** More distinct keys than this, and lines with new ones are left. */
const MOST_KEYS = 4096;
const ROOT = 0;
/** Bytes that texts have as they are: ASCII, but for control characters, quotes and escapes. */
const PLAIN = Uint8Array.from({ length: 256 }, (_, byte) =>
  byte >= SPACE && byte < 128 && byte !== QUOTE && byte !== BACKSLASH ? 1 : 0,
);

/** The largest value of each number; times are read elsewhere. */
const MOST: readonly number[] = [0, 65535, Number.MAX_SAFE_INTEGER, 999, Number.MAX_SAFE_INTEGER];

/**
 * Finds the fields of lines of JSON without making objects of them. Takes the lines that most logs have: a flat object
 * of texts in ASCII without escapes, whole numbers, `null`, `true` and `false`. It leaves all others, faulty ones too, to
 * who reads any line.
 */
export class JsonScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  readonly #view: DataView;
  readonly #keys = new TextArena();
  readonly #clock: BlockClock;
  /** By key: its field, and the offsets of its bytes and of the closing quote. */
  readonly #fieldOf: number[] = [];
  readonly #names: string[] = [];
  readonly #keyStart = new Int32Array(MOST_KEYS);
  readonly #keyLength = new Int32Array(MOST_KEYS);
  /** By key, the key that came behind it last; from 1, and 0 for none. The line's start is `ROOT`. */
  readonly #next = new Int32Array(MOST_KEYS + 1);
  /** The keys of the line that are none of a request's. */
  readonly #ignored = new Int32Array(64);
  #ignoredCount = 0;
  /** By key, the line that it was last ignored in, since a key that comes twice counts once. */
  readonly #lastIgnored = new Int32Array(MOST_KEYS).fill(-1);

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array) {
    this.#bytes = bytes;
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.#clock = new BlockClock(bytes);
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    fields.seen = 0;
    this.#ignoredCount = 0;
    if (bytes[start] !== OPEN) return LEFT_LINE;
    let at = start + 1;
    let known = 0;
    let previous = ROOT;
    for (;;) {
      while (bytes[at] === SPACE) at++;
      if (bytes[at] !== QUOTE) return LEFT_LINE;
      const key = this.#key(at + 1, previous);
      if (key < 0) return LEFT_LINE;
      previous = key + 1;
      at += (this.#keyLength[key] as number) + 2;
      while (bytes[at] === SPACE) at++;
      if (bytes[at++] !== COLON) return LEFT_LINE;
      while (bytes[at] === SPACE) at++;
      const field = this.#fieldOf[key] as number;
      if (field === IGNORED) {
        if (this.#ignoredCount === this.#ignored.length || this.#lastIgnored[key] === start) return LEFT_LINE;
        this.#lastIgnored[key] = start;
        this.#ignored[this.#ignoredCount++] = key;
      } else {
        if (field === LEFT || (fields.seen & (1 << field)) !== 0) return LEFT_LINE;
        known++;
      }
      at = this.#value(at, field);
      if (at < 0) return LEFT_LINE;
      while (bytes[at] === SPACE) at++;
      const byte = bytes[at++];
      if (byte === COMMA) continue;
      if (byte !== CLOSE) return LEFT_LINE;
      while (bytes[at] === SPACE || bytes[at] === RETURN) at++;
      return bytes[at] === NEWLINE && known > 0 ? at : LEFT_LINE;
    }
  }

  /** The names of the line's fields that are not a request's. */
  eachIgnored(take: (name: string) => void): void {
    for (let at = 0; at < this.#ignoredCount; at++) take(this.#names[this.#ignored[at] as number] as string);
  }

  /** The number of the key that begins there; below 0 where it has to be left. */
  #key(start: number, previous: number): number {
    const bytes = this.#bytes;
    const likely = (this.#next[previous] as number) - 1;
    if (likely >= 0 && this.#isKey(likely, start)) return likely;
    let hash = HASH_START;
    let end = start;
    for (let byte = bytes[end] as number; byte !== QUOTE; byte = bytes[++end] as number) {
      if (byte === BACKSLASH || byte < SPACE || byte >= 128) return -1;
      hash = hashByte(hash, byte);
    }
    if (this.#keys.count === MOST_KEYS) return -1;
    const key = this.#keys.number(bytes, start, end, hash);
    if (key === this.#fieldOf.length) this.#learn(key, start, end);
    this.#next[previous] = key + 1;
    return key;
  }

  /** Whether the key is there, with its closing quote; compares four bytes at a time. */
  #isKey(key: number, start: number): boolean {
    const known = this.#keyStart[key] as number;
    const length = (this.#keyLength[key] as number) + 1;
    const bytes = this.#bytes;
    if (start + length > bytes.length) return false;
    let at = 0;
    for (; at + 4 <= length; at += 4)
      if (this.#view.getInt32(known + at) !== this.#view.getInt32(start + at)) return false;
    for (; at < length; at++) if (bytes[known + at] !== bytes[start + at]) return false;
    return true;
  }

  #learn(key: number, start: number, end: number): void {
    const name = String.fromCharCode(...this.#bytes.subarray(start, end));
    const field = (FIELDS as readonly string[]).indexOf(name);
    this.#keyStart[key] = start;
    this.#keyLength[key] = end - start;
    this.#names.push(name);
    const ours = (REQUEST_FIELDS as readonly string[]).includes(name) || isConventionalName(name);
    this.#fieldOf.push(field >= 0 ? field : ours ? LEFT : IGNORED);
  }

  /** Takes the value that begins there; answers where it ends, or below 0 where it has to be left. */
  #value(start: number, field: number): number {
    const byte = this.#bytes[start] as number;
    if (byte === QUOTE) return this.#text(start + 1, field);
    if (byte >= ZERO && byte <= NINE) return this.#number(start, field);
    if (byte === 110) return this.#word(start, NULL);
    if (field !== IGNORED) return -1;
    return byte === 116 ? this.#word(start, TRUE) : byte === 102 ? this.#word(start, FALSE) : -1;
  }

  #text(start: number, field: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    // Other numbers in quotes are rare.
    if (field >= 0 && field < NUMBER_COUNT) return field === TIME ? this.#time(start) : -1;
    let hash = HASH_START;
    let at = start;
    let byte = bytes[at] as number;
    for (; PLAIN[byte] === 1; byte = bytes[++at] as number) hash = Math.imul(hash ^ byte, 0x01000193);
    if (byte !== QUOTE) return -1;
    if (field === IGNORED) return at + 1;
    fields.starts[field] = start;
    fields.ends[field] = at;
    fields.hashes[field] = hash;
    fields.seen |= 1 << field;
    return at + 1;
  }

  /** The clock looks at every byte of a time, so that its end is looked for where the two lengths put it. */
  #time(start: number): number {
    const { fields } = this;
    let at = start + WITH_SECONDS;
    if (this.#bytes[at] !== QUOTE) at = start + WITH_MILLISECONDS;
    if (this.#bytes[at] !== QUOTE) return -1;
    const time = this.#clock.read(start, at);
    if (Number.isNaN(time)) return -1;
    fields.numbers[TIME] = time;
    fields.seen |= 1 << TIME;
    return at + 1;
  }

  #number(start: number, field: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    let value = 0;
    let at = start;
    for (let byte = bytes[at] as number; byte >= ZERO && byte <= NINE; byte = bytes[++at] as number)
      value = value * 10 + byte - ZERO;
    if (at - start > MOST_DIGITS || (at - start > 1 && bytes[start] === ZERO)) return -1;
    if (field === IGNORED) {
      // A fraction in a field that is not read.
      if (bytes[at] !== 46) return at;
      const digits = ++at;
      while ((bytes[at] as number) >= ZERO && (bytes[at] as number) <= NINE) at++;
      return at > digits ? at : -1;
    }
    if (field >= NUMBER_COUNT) return -1;
    if (field === TIME) value = value > 1e11 ? value : value * 1000;
    else if (value > (MOST[field] as number)) return -1;
    if (field === TIME && value > 8.64e15) return -1;
    fields.numbers[field] = value;
    fields.seen |= 1 << field;
    return at;
  }

  #word(start: number, word: readonly number[]): number {
    for (let at = 0; at < word.length; at++) if (this.#bytes[start + at] !== word[at]) return -1;
    return start + word.length;
  }
}

const codes = (word: string): number[] => [...word].map((character) => character.charCodeAt(0));
const [NULL, TRUE, FALSE] = [codes('null'), codes('true'), codes('false')];
