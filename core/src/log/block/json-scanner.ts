import { isConventionalName } from '../read/names.js';
import { REQUEST_FIELDS } from '../read/request-fields.js';
import { FIRST_KEY, JsonKeys } from './json-keys.js';
import { IGNORED, JsonValues, LEFT } from './json-values.js';
import { FIELDS, LineFields } from './line-fields.js';

const QUOTE = 34;
const COLON = 58;
const COMMA = 44;
const OPEN = 123;
const CLOSE = 125;
const SPACE = 32;
const NEWLINE = 10;
const RETURN = 13;
/** Answered for a line that is left. */
const LEFT_LINE = -1;
const MOST_IGNORED = 64;

/** The purpose of a key of a flat object: its field, or that it is ignored, or that its line is left. */
export function purposeOf(name: string): number {
  const field = (FIELDS as readonly string[]).indexOf(name);
  if (field >= 0) return field;
  return (REQUEST_FIELDS as readonly string[]).includes(name) || isConventionalName(name) ? LEFT : IGNORED;
}

/**
 * Finds the fields of lines of JSON without making objects of them. Takes the lines that most logs have: a flat object
 * of texts in ASCII without escapes, whole numbers, `null`, `true` and `false`. It leaves all others, faulty ones too, to
 * who reads any line.
 */
export class JsonScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  readonly #values: JsonValues;
  readonly #keys: JsonKeys;
  /** By key: its field, and its name. */
  readonly #fieldOf: number[] = [];
  readonly #names: string[] = [];
  /** The keys of the line that are none of a request's. */
  readonly #ignored = new Int32Array(MOST_IGNORED);
  #ignoredCount = 0;
  /** By key, the line that it was last ignored in, since a key that comes twice counts once. */
  readonly #lastIgnored: number[] = [];

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array) {
    this.#bytes = bytes;
    this.#values = new JsonValues(bytes, this.fields);
    this.#keys = new JsonKeys(bytes, (name) => {
      this.#names.push(name);
      this.#fieldOf.push(purposeOf(name));
      this.#lastIgnored.push(-1);
    });
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    const keys = this.#keys;
    fields.seen = 0;
    this.#ignoredCount = 0;
    if (bytes[start] !== OPEN) return LEFT_LINE;
    let at = start + 1;
    let known = 0;
    let previous = FIRST_KEY;
    for (;;) {
      while (bytes[at] === SPACE) at++;
      if (bytes[at] !== QUOTE) return LEFT_LINE;
      const key = keys.key(at + 1, previous);
      if (key < 0) return LEFT_LINE;
      previous = key + 1;
      at += keys.length(key) + 2;
      while (bytes[at] === SPACE) at++;
      if (bytes[at++] !== COLON) return LEFT_LINE;
      while (bytes[at] === SPACE) at++;
      const field = this.#fieldOf[key] as number;
      if (field === IGNORED) {
        if (this.#ignoredCount === MOST_IGNORED || this.#lastIgnored[key] === start) return LEFT_LINE;
        this.#lastIgnored[key] = start;
        this.#ignored[this.#ignoredCount++] = key;
      } else {
        if (field === LEFT || (fields.seen & (1 << field)) !== 0) return LEFT_LINE;
        known++;
      }
      at = this.#values.take(at, field);
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
}
