import { type Address, readFour } from '../../address/index.js';
import {
  type AddressColumnBuilder,
  HASH_START,
  type NumberColumnBuilder,
  type TextColumnBuilder,
} from '../../column/index.js';
import type { ChunkBuilder } from '../chunk/builder.js';
import { FIELD_VALUES, type FieldValue, FieldValues } from './field-values.js';
import { FIELDS, FIRST_TEXT, fieldNumber, type LineFields, NUMBER_COUNT, type ScannedField } from './line-fields.js';

const PORT = fieldNumber('port');
const METHOD = fieldNumber('method');
const HOST = fieldNumber('host');
const PATH = fieldNumber('path');
const QUERY = fieldNumber('query');
const HEADERS: Readonly<Partial<Record<ScannedField, string>>> = {
  forwarded: 'header.forwarded',
  'forwarded-for': 'header.x-forwarded-for',
};
/** The words that say that there is known to be none, which is held as an empty text; of the user in any case. */
type NoneWords = Readonly<Partial<Record<ScannedField, string>>>;
export const COMBINED_NONE: NoneWords = { user: 'anonymous' };
export const JSON_NONE: NoneWords = { ...COMBINED_NONE, agent: 'absent', referrer: 'absent' };
/** Where these are empty or a dash, there is known to be none. */
const OF_KNOWN_NONE = [fieldNumber('user'), fieldNumber('agent'), fieldNumber('referrer')];
const USER = fieldNumber('user');
/** Turns capitals of ASCII to small letters, and nothing else into one. */
const SMALL = 32;
const NUMBERS = (1 << NUMBER_COUNT) - 1;
const DASH = 45;
const QUESTION = 63;

/** The value of a field in this line, when it is not the number of one of its known values. */
const UNSEEN = -1;
const AS_IT_IS = -2;
const FOUR = -3;
const NONE = -4;

/**
 * Writes the fields of scanned lines into a chunk as requests: each distinct value of a field is brought into its normal
 * form once. What comes out is the same as reading the lines one by one and adding the requests.
 */
export class BlockRows {
  readonly #builder: ChunkBuilder;
  readonly #bytes: Uint8Array;
  readonly #values: readonly (FieldValues | undefined)[];
  readonly #noneWords: readonly (Uint8Array | undefined)[];
  readonly #numbers: (NumberColumnBuilder | undefined)[] = [];
  readonly #addresses: (AddressColumnBuilder | undefined)[] = [];
  readonly #texts: (TextColumnBuilder | undefined)[] = [];
  /** By the number of a path the code of the query behind it. */
  readonly #queries: number[] = [];
  readonly #line = new Int32Array(FIELDS.length);
  /** The IPv4 addresses of the line at hand. */
  readonly #fours = new Float64Array(FIRST_TEXT);

  constructor(builder: ChunkBuilder, bytes: Uint8Array, noneWords: NoneWords) {
    this.#builder = builder;
    this.#bytes = bytes;
    const encoder = new TextEncoder();
    this.#noneWords = FIELDS.map((name) => (noneWords[name] ? encoder.encode(noneWords[name]) : undefined));
    this.#values = FIELDS.map((name) => {
      const read = FIELD_VALUES[name];
      return read && new FieldValues(bytes, read);
    });
  }

  /** Adds the line as a request; false when its fields depend on each other, so that it must be read as a whole. */
  add(fields: LineFields, line: number): boolean {
    if (!this.#look(fields)) return false;
    const row = this.#builder.begin(line);
    this.#addNumbers(fields, row);
    this.#addAddresses(row);
    for (let field = FIRST_TEXT; field < FIELDS.length; field++) {
      const number = this.#line[field] as number;
      if (number >= 0) this.#addValue(field, number, row);
      else if (number === AS_IT_IS) this.#addBytes(fields, field, row);
      else if (number === NONE) this.#text(field).setBytes(row, this.#bytes, 0, 0, HASH_START);
      else if (field === QUERY) this.#addQueryOfPath(row);
    }
    return true;
  }

  /** Looks every value of the line up, before anything of it is written. */
  #look({ seen, none, starts, ends, hashes }: LineFields): boolean {
    const line = this.#line;
    const bytes = this.#bytes;
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++) {
      line[field] = (none & (1 << field)) === 0 ? UNSEEN : NONE;
      if ((seen & (1 << field)) === 0) continue;
      const start = starts[field] as number;
      const end = ends[field] as number;
      if (end === start || (end - start === 1 && bytes[start] === DASH)) {
        if (OF_KNOWN_NONE.includes(field)) line[field] = NONE;
        continue;
      }
      if (field < FIRST_TEXT) {
        const four = readFour(bytes, start, end);
        this.#fours[field] = four;
        line[field] = FOUR;
        if (four >= 0) continue;
      }
      const values = this.#values[field];
      if (values === undefined) {
        line[field] = AS_IT_IS;
        continue;
      }
      const number = values.number(start, end, hashes[field] as number);
      const value = values.value(number);
      if (value === 'left') return false;
      line[field] = value.text === undefined ? UNSEEN : number;
    }
    if (!this.#hasValue(seen)) return false;
    // A tunnel has its target where other requests have a path.
    return line[PATH] === UNSEEN || this.#valueOf(METHOD)?.text !== 'CONNECT';
  }

  /** Whether the line says anything at all of a request. */
  #hasValue(seen: number): boolean {
    if ((seen & NUMBERS) !== 0) return true;
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++) if (this.#line[field] !== UNSEEN) return true;
    return false;
  }

  #valueOf(field: number): FieldValue | undefined {
    const number = this.#line[field] as number;
    return number < 0 ? undefined : (this.#values[field]?.value(number) as FieldValue);
  }

  #addNumbers({ seen, numbers }: LineFields, row: number): void {
    for (let field = 0; field < NUMBER_COUNT; field++) {
      let value = numbers[field] as number;
      if ((seen & (1 << field)) === 0) {
        const behindHost = field === PORT ? this.#valueOf(HOST)?.port : undefined;
        if (behindHost === undefined) continue;
        value = behindHost;
      }
      const column = this.#numbers[field] ?? this.#builder.number(FIELDS[field] as string);
      this.#numbers[field] = column;
      column.set(row, value);
    }
  }

  #addAddresses(row: number): void {
    for (let field = NUMBER_COUNT; field < FIRST_TEXT; field++) {
      const number = this.#line[field] as number;
      if (number === UNSEEN) continue;
      const column = this.#addresses[field] ?? this.#builder.address(FIELDS[field] as string);
      this.#addresses[field] = column;
      const address = this.#valueOf(field)?.address as Address;
      column.setCode(row, number === FOUR ? column.codeOfFour(this.#fours[field] as number) : column.code(address));
    }
  }

  #addValue(field: number, number: number, row: number): void {
    const column = this.#text(field);
    const values = this.#values[field] as FieldValues;
    column.setCode(
      row,
      values.code(number, ({ text }) => column.code(text as string)),
    );
  }

  /** Adds a text that has no other normal form than itself. */
  #addBytes({ starts, ends, hashes }: LineFields, field: number, row: number): void {
    const start = starts[field] as number;
    const end = ends[field] as number;
    const column = this.#text(field);
    if (this.#isNone(field, start, end)) column.setBytes(row, this.#bytes, 0, 0, HASH_START);
    else if (field === QUERY && this.#bytes[start] === QUESTION)
      column.set(row, String.fromCharCode(...this.#bytes.subarray(start + 1, end)));
    else column.setBytes(row, this.#bytes, start, end, hashes[field] as number);
  }

  #isNone(field: number, start: number, end: number): boolean {
    const word = this.#noneWords[field];
    if (word === undefined || word.length !== end - start) return false;
    const small = field === USER ? SMALL : 0;
    for (let at = 0; at < word.length; at++)
      if (word[at] !== ((this.#bytes[start + at] as number) | small)) return false;
    return true;
  }

  #addQueryOfPath(row: number): void {
    const path = this.#line[PATH] as number;
    const query = this.#valueOf(PATH)?.query;
    if (query === undefined) return;
    const column = this.#text(QUERY);
    this.#queries[path] ??= column.code(query);
    column.setCode(row, this.#queries[path]);
  }

  #text(field: number): TextColumnBuilder {
    const name = FIELDS[field] as ScannedField;
    const column = this.#texts[field] ?? this.#builder.text(HEADERS[name] ?? name);
    this.#texts[field] = column;
    return column;
  }
}
