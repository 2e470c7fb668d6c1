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
import { type LineBatch, NO_RUN } from './line-batch.js';
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

/** In the place of an id: the line says nothing of the field, or that there is known to be none. */
const UNSEEN = NO_RUN;
const NONE = -2;

/**
 * Writes the fields of scanned lines into a chunk as requests, field by field: each distinct value of a field is brought
 * into its normal form once. What comes out is the same as reading the lines one by one and adding the requests.
 */
export class BlockRows {
  readonly #builder: ChunkBuilder;
  readonly #bytes: Uint8Array;
  readonly #batch: LineBatch;
  readonly #values: readonly FieldValues[] = FIELDS.map(() => new FieldValues());
  readonly #noneWords: readonly (Uint8Array | undefined)[];
  /** By the number of a path the code of the query behind it. */
  readonly #queries: number[] = [];
  /** Whether any path has a query behind it, and any host a port. */
  #hasQueries = false;
  #hasPorts = false;
  /** The fields whose columns are begun. */
  #begun = 0;
  /** Of each line of the batch, whether it has to be read as a whole. */
  readonly #isLeft: Uint8Array;
  /** Of each, whether it says anything of a request. */
  readonly #says: Uint8Array;

  /** `bytes` are those of the block, of which the batch has pieces. */
  constructor(builder: ChunkBuilder, bytes: Uint8Array, batch: LineBatch, noneWords: NoneWords) {
    this.#builder = builder;
    this.#bytes = bytes;
    this.#batch = batch;
    const encoder = new TextEncoder();
    this.#noneWords = FIELDS.map((name) => (noneWords[name] ? encoder.encode(noneWords[name]) : undefined));
    this.#isLeft = new Uint8Array(batch.most);
    this.#says = new Uint8Array(batch.most);
  }

  /**
   * Looks up what the runs of so many lines say, whose piece begins at `base` in the block; before any of them is added.
   * A line whose fields depend on each other is left.
   */
  look(count: number, base: number): void {
    const { ends, seen, ids, most } = this.#batch;
    const [isLeft, says] = [this.#isLeft, this.#says];
    for (let at = 0; at < count; at++) {
      isLeft[at] = (ends[at] as number) < 0 ? 1 : 0;
      says[at] = ((seen[at] as number) & NUMBERS) === 0 ? 0 : 1;
    }
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++)
      if (this.#batch.has(field)) this.#lookAt(field, count, base);
    if (!this.#batch.has(PATH)) return;
    // A tunnel has its target where other requests have a path.
    const [methods, paths] = [METHOD * most, PATH * most];
    for (let at = 0; at < count; at++) {
      if (ids[paths + at] === UNSEEN || !this.#batch.has(METHOD)) continue;
      const method = ids[methods + at] as number;
      if (method >= 0 && this.#values[METHOD]?.value(method)?.text === 'CONNECT') isLeft[at] = 1;
    }
  }

  /** Whether a line has to be read as a whole. */
  isLeft(at: number): boolean {
    return this.#isLeft[at] === 1 || this.#says[at] === 0;
  }

  /** Adds the lines from one to before another as requests, the first of which is a line of the log. */
  add(from: number, to: number, base: number, line: number): void {
    if (from === to) return;
    const row = this.#builder.begin(line);
    for (let at = from + 1; at < to; at++) this.#builder.begin(line + at - from);
    this.#beginColumns(from, to);
    for (let field = 0; field < NUMBER_COUNT; field++) this.#addNumbers(field, from, to, row);
    for (let field = NUMBER_COUNT; field < FIELDS.length; field++)
      if (this.#mayHave(field)) this.#addRuns(field, from, to, base, row);
  }

  /** Begins the columns of fields that come for the first time: in the order in which they come, line by line. */
  #beginColumns(from: number, to: number): void {
    const missing: number[] = [];
    for (let field = 0; field < FIELDS.length; field++)
      if ((this.#begun & (1 << field)) === 0 && this.#mayHave(field)) missing.push(field);
    for (let at = from; at < to && missing.length > 0; at++)
      for (const field of [...missing]) {
        if (!this.#hasValue(field, at)) continue;
        if (field < NUMBER_COUNT) this.#builder.number(FIELDS[field] as string);
        else if (field < FIRST_TEXT) this.#address(field);
        else this.#text(field);
        this.#begun |= 1 << field;
        missing.splice(missing.indexOf(field), 1);
      }
  }

  /** Whether any line of the batch may have a value of the field, by itself or behind another. */
  #mayHave(field: number): boolean {
    return this.#batch.has(field) || (field === QUERY && this.#hasQueries) || (field === PORT && this.#hasPorts);
  }

  #hasValue(field: number, at: number): boolean {
    const { seen, ids, most } = this.#batch;
    if (field < NUMBER_COUNT && ((seen[at] as number) & (1 << field)) !== 0) return true;
    if (field >= NUMBER_COUNT && this.#batch.has(field) && ids[field * most + at] !== UNSEEN) return true;
    if (field === PORT) return this.#behind(HOST, at)?.port !== undefined;
    return field === QUERY && this.#behind(PATH, at)?.query !== undefined;
  }

  /** What else the value of a field says in a line. */
  #behind(field: number, at: number): FieldValue | undefined {
    const id = this.#batch.has(field) ? (this.#batch.ids[field * this.#batch.most + at] as number) : UNSEEN;
    return id < 0 ? undefined : this.#values[field]?.value(id);
  }

  /** Puts what is to be written of a field in the place of each line's id. */
  #lookAt(field: number, count: number, base: number): void {
    const { ids, none, most } = this.#batch;
    const [isLeft, says] = [this.#isLeft, this.#says];
    const values = this.#values[field] as FieldValues;
    for (let at = 0, place = field * most; at < count; at++, place++) {
      const id = ids[place] as number;
      let kind = NOTHING;
      if (id >= 0) {
        kind = values.kind(id);
        if (kind === UNKNOWN) kind = this.#learn(field, id, place, base);
      }
      if (kind === VALUE) says[at] = 1;
      else if (kind === LEFT_RUN) isLeft[at] = 1;
      else {
        const isNone = kind === KNOWN_NONE || ((none[at] as number) & (1 << field)) !== 0;
        ids[place] = isNone ? NONE : UNSEEN;
        if (isNone) says[at] = 1;
      }
    }
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
    if (value?.query !== undefined) this.#hasQueries = true;
    if (value?.port !== undefined) this.#hasPorts = true;
    values.learn(id, kind, value);
    return kind;
  }

  #addNumbers(field: number, from: number, to: number, row: number): void {
    const { seen, numbers, most } = this.#batch;
    if (!this.#mayHave(field)) return;
    const behindHosts = field === PORT && this.#hasPorts;
    let column: NumberColumnBuilder | undefined;
    for (let at = from; at < to; at++) {
      let value: number | undefined;
      if (((seen[at] as number) & (1 << field)) !== 0) value = numbers[field * most + at];
      else if (behindHosts) value = this.#behind(HOST, at)?.port;
      if (value === undefined) continue;
      column ??= this.#builder.number(FIELDS[field] as string);
      column.set(row + at - from, value);
    }
  }

  #addRuns(field: number, from: number, to: number, base: number, row: number): void {
    const { ids, most } = this.#batch;
    const values = this.#values[field] as FieldValues;
    const has = this.#batch.has(field);
    const behindPaths = field === QUERY && this.#hasQueries;
    let column: TextColumnBuilder | AddressColumnBuilder | undefined;
    for (let at = from; at < to; at++) {
      const place = field * most + at;
      const id = has ? (ids[place] as number) : UNSEEN;
      let code: number;
      if (id >= 0) {
        code = values.code(id);
        if (code === UNSEEN) {
          const start = base + (this.#batch.starts[place] as number);
          code = this.#codeOf(field, values.value(id), start, start + (this.#batch.lengths[place] as number));
          values.setCode(id, code);
        }
      } else if (id === NONE) code = this.#text(field).code('');
      else {
        code = behindPaths ? this.#queryOf(at) : 0;
        if (code === 0) continue;
      }
      column ??= field < FIRST_TEXT ? this.#address(field) : this.#text(field);
      column.setCode(row + at - from, code);
    }
  }

  /** The code of a value that is written first; of a text that has no other normal form than itself, by its bytes. */
  #codeOf(field: number, value: FieldValue | undefined, start: number, end: number): number {
    const bytes = this.#bytes;
    if (field < FIRST_TEXT) {
      const column = this.#address(field);
      return value ? column.code(value.address) : column.codeOfFour(readFour(bytes, start, end));
    }
    const column = this.#text(field);
    if (value && !isText(value.text as string, bytes, start, end)) return column.code(value.text as string);
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

  /** The code of the query behind a path; 0 for none. */
  #queryOf(at: number): number {
    const query = this.#behind(PATH, at)?.query;
    if (query === undefined) return 0;
    const path = this.#batch.ids[PATH * this.#batch.most + at] as number;
    this.#queries[path] ??= this.#text(QUERY).code(query);
    return this.#queries[path];
  }

  #address(field: number): AddressColumnBuilder {
    return this.#builder.address(FIELDS[field] as string);
  }

  #text(field: number): TextColumnBuilder {
    const name = FIELDS[field] as ScannedField;
    return this.#builder.text(HEADERS[name] ?? name);
  }
}

/** Whether the bytes are the text, as those of most values in their normal form are: it needs not be encoded then. */
function isText(text: string, bytes: Uint8Array, start: number, end: number): boolean {
  if (text.length !== end - start) return false;
  for (let at = 0; at < text.length; at++) if (text.charCodeAt(at) !== bytes[start + at]) return false;
  return true;
}
