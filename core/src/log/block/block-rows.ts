import { readFour } from '../../address/index.js';
import {
  type AddressColumnBuilder,
  hashBytes,
  type NumberColumnBuilder,
  type TextColumnBuilder,
} from '../../column/index.js';
import type { ChunkBuilder } from '../chunk/builder.js';
import {
  FIELD_VALUES,
  type FieldValue,
  FieldValues,
  KNOWN_NONE,
  LEFT_RUN,
  NOTHING,
  UNKNOWN,
  VALUE,
} from './field-values.js';
import type { LineBatch } from './line-batch.js';
import { FIELDS, FIRST_TEXT, fieldNumber, NUMBER_COUNT, type ScannedField } from './line-fields.js';

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

/** The value of a field in this line, when it is not the number of one of its values. */
const UNSEEN = -1;
const NONE = -2;

/**
 * Writes the fields of scanned lines into a chunk as requests: each distinct value of a field is brought into its normal
 * form once. What comes out is the same as reading the lines one by one and adding the requests.
 */
export class BlockRows {
  readonly #builder: ChunkBuilder;
  readonly #bytes: Uint8Array;
  readonly #batch: LineBatch;
  readonly #values: readonly FieldValues[];
  readonly #noneWords: readonly (Uint8Array | undefined)[];
  readonly #numbers: (NumberColumnBuilder | undefined)[] = [];
  readonly #addresses: (AddressColumnBuilder | undefined)[] = [];
  readonly #texts: (TextColumnBuilder | undefined)[] = [];
  /** By the number of a path the code of the query behind it. */
  readonly #queries: number[] = [];
  readonly #line = new Int32Array(FIELDS.length);

  /** `bytes` are those of the block, of which the batch has pieces. */
  constructor(builder: ChunkBuilder, bytes: Uint8Array, batch: LineBatch, noneWords: NoneWords) {
    this.#builder = builder;
    this.#bytes = bytes;
    this.#batch = batch;
    const encoder = new TextEncoder();
    this.#noneWords = FIELDS.map((name) => (noneWords[name] ? encoder.encode(noneWords[name]) : undefined));
    this.#values = FIELDS.map(() => new FieldValues());
  }

  /**
   * Adds a line of the batch, whose piece begins at `base` in the block, as a request; false when its fields depend on each
   * other, so that it must be read as a whole.
   */
  add(at: number, base: number, line: number): boolean {
    if (!this.#look(at, base)) return false;
    const row = this.#builder.begin(line);
    this.#addNumbers(at, row);
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++) {
      const id = this.#line[field] as number;
      if (id >= 0) this.#addValue(field, id, at, base, row);
      else if (id === NONE) this.#text(field).set(row, '');
      else if (field === QUERY) this.#addQueryOfPath(row);
    }
    return true;
  }

  /** Looks every value of the line up, before anything of it is written. */
  #look(at: number, base: number): boolean {
    const line = this.#line;
    const { ids, none, most } = this.#batch;
    const noneBits = none[at] as number;
    let any = ((this.#batch.seen[at] as number) & NUMBERS) !== 0;
    for (let field = NUMBER_COUNT, place = field * most + at; field < FIELDS.length; field++, place += most) {
      const id = ids[place] as number;
      if (id < 0) {
        line[field] = (noneBits & (1 << field)) === 0 ? UNSEEN : NONE;
        if (line[field] === NONE) any = true;
        continue;
      }
      const values = this.#values[field] as FieldValues;
      let kind = values.kind(id);
      if (kind === UNKNOWN) kind = this.#learn(field, id, place, base);
      if (kind === LEFT_RUN) return false;
      line[field] = kind === VALUE ? id : kind === KNOWN_NONE || (noneBits & (1 << field)) !== 0 ? NONE : UNSEEN;
      if (line[field] !== UNSEEN) any = true;
    }
    // A line must say anything at all of a request; and a tunnel has its target where other requests have a path.
    return any && (line[PATH] === UNSEEN || this.#valueOf(METHOD)?.text !== 'CONNECT');
  }

  /** Learns what a run says by its first line. */
  #learn(field: number, id: number, place: number, base: number): number {
    const bytes = this.#bytes;
    const start = base + (this.#batch.starts[place] as number);
    const end = start + (this.#batch.lengths[place] as number);
    const values = this.#values[field] as FieldValues;
    const read = FIELD_VALUES[FIELDS[field] as ScannedField];
    let kind = VALUE;
    let value: FieldValue | undefined;
    if (end === start || (end - start === 1 && bytes[start] === DASH))
      kind = OF_KNOWN_NONE.includes(field) ? KNOWN_NONE : NOTHING;
    else if (read === undefined) kind = this.#isNone(field, start, end) ? KNOWN_NONE : VALUE;
    // An IPv4 address needs no text of its own.
    else if (field >= FIRST_TEXT || readFour(bytes, start, end) < 0) {
      const found = read(String.fromCharCode(...bytes.subarray(start, end)));
      kind = found === 'left' ? LEFT_RUN : found.text === undefined ? NOTHING : VALUE;
      if (found !== 'left') value = found;
    }
    values.learn(id, kind, value);
    return kind;
  }

  #valueOf(field: number): FieldValue | undefined {
    const id = this.#line[field] as number;
    return id < 0 ? undefined : this.#values[field]?.value(id);
  }

  #addNumbers(at: number, row: number): void {
    const { seen, numbers, most } = this.#batch;
    const bits = seen[at] as number;
    for (let field = 0; field < NUMBER_COUNT; field++) {
      let value = numbers[field * most + at] as number;
      if ((bits & (1 << field)) === 0) {
        const behindHost = field === PORT ? this.#valueOf(HOST)?.port : undefined;
        if (behindHost === undefined) continue;
        value = behindHost;
      }
      const column = this.#numbers[field] ?? this.#builder.number(FIELDS[field] as string);
      this.#numbers[field] = column;
      column.set(row, value);
    }
  }

  #addValue(field: number, id: number, at: number, base: number, row: number): void {
    const values = this.#values[field] as FieldValues;
    const column = field < FIRST_TEXT ? this.#address(field) : this.#text(field);
    let code = values.code(id);
    if (code === UNSEEN) {
      const place = field * this.#batch.most + at;
      const start = base + (this.#batch.starts[place] as number);
      code = this.#codeOf(field, values.value(id), start, start + (this.#batch.lengths[place] as number));
      values.setCode(id, code);
    }
    column.setCode(row, code);
  }

  /** The code of a value that is written first; of a text that has no other normal form than itself, by its bytes. */
  #codeOf(field: number, value: FieldValue | undefined, start: number, end: number): number {
    const bytes = this.#bytes;
    if (field < FIRST_TEXT) {
      const column = this.#address(field);
      return value ? column.code(value.address) : column.codeOfFour(readFour(bytes, start, end));
    }
    const column = this.#text(field);
    if (value) return column.code(value.text as string);
    if (field === QUERY && bytes[start] === QUESTION)
      return column.code(String.fromCharCode(...bytes.subarray(start + 1, end)));
    return column.codeOfBytes(bytes, start, end, hashBytes(bytes, start, end));
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

  #address(field: number): AddressColumnBuilder {
    const column = this.#addresses[field] ?? this.#builder.address(FIELDS[field] as string);
    this.#addresses[field] = column;
    return column;
  }

  #text(field: number): TextColumnBuilder {
    const name = FIELDS[field] as ScannedField;
    const column = this.#texts[field] ?? this.#builder.text(HEADERS[name] ?? name);
    this.#texts[field] = column;
    return column;
  }
}
