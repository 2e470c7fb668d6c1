import {
  AddressColumnBuilder,
  type Column,
  type ColumnTable,
  NumberColumnBuilder,
  TextColumnBuilder,
} from '../../column/index.js';
import { ADDRESS_FIELDS, NUMBER_FIELDS, packValues, type Request, TEXT_FIELDS } from '../../request/index.js';

/** The most requests that a chunk holds. */
export const CHUNK_ROWS = 65_536;
/** A chunk whose texts have this many characters takes no more, however few its requests are. */
const MOST_CHARACTERS = 2 ** 25;

/** More distinct header names than this in one chunk are not kept; `dropped` counts their values. */
const MOST_HEADERS = 64;
/** The columns of text beside those of `TEXT_FIELDS` and headers: groups, met, all-headers. */
const OTHER_TEXTS = 3;

/** Gathers requests into one chunk of columns. Columns that no request has a value for are left out. */
export class ChunkBuilder {
  #rows = 0;
  #characters = 0;
  #droppedHeaders = 0;
  readonly #texts = new Map<string, TextColumnBuilder>();
  readonly #numbers = new Map<string, NumberColumnBuilder>();
  readonly #addresses = new Map<string, AddressColumnBuilder>();

  get rows(): number {
    return this.#rows;
  }

  get full(): boolean {
    return this.#rows === CHUNK_ROWS || this.#characters >= MOST_CHARACTERS;
  }

  /** How many header values found no room. */
  get droppedHeaders(): number {
    return this.#droppedHeaders;
  }

  /** Begins the request of the given line of its file, whose columns the caller sets; answers its row. */
  begin(line: number): number {
    const row = this.#rows++;
    this.number('line').set(row, line);
    return row;
  }

  /** Adds the request of the given line of its file. */
  add(request: Request, line: number): void {
    const row = this.begin(line);
    for (const field of NUMBER_FIELDS) {
      const value = request[field];
      if (value !== undefined) this.number(field).set(row, value);
    }
    for (const field of ADDRESS_FIELDS) {
      const value = request[field];
      if (value !== undefined) this.address(field).set(row, value);
    }
    if (request.groups !== undefined) this.text('groups').set(row, request.groups.join('\n'));
    if (request.met.length > 0) this.text('met').set(row, request.met.join('\n'));
    if (request.allHeaders) this.text('all-headers').set(row, 'yes');
    for (const field of TEXT_FIELDS) {
      const value = request[field];
      if (value !== undefined) this.#set(row, field, value);
    }
    for (const [name, values] of request.headers) if (values) this.#header(row, name, packValues(values));
  }

  build(): ColumnTable {
    const columns = new Map<string, Column>();
    for (const [name, builder] of this.#numbers) columns.set(name, builder.build(this.#rows));
    for (const [name, builder] of this.#addresses) columns.set(name, builder.build(this.#rows));
    for (const [name, builder] of this.#texts) columns.set(name, builder.build(this.#rows));
    return { rows: this.#rows, columns };
  }

  #header(row: number, name: string, value: string): void {
    const column = `header.${name}`;
    const full = this.#texts.size >= MOST_HEADERS + TEXT_FIELDS.length + OTHER_TEXTS && !this.#texts.has(column);
    if (full) this.#droppedHeaders++;
    else this.#set(row, column, value);
  }

  #set(row: number, column: string, text: string): void {
    this.text(column).set(row, text);
    this.#characters += text.length;
  }

  /** The builder of the column, which there is from now on. */
  text(name: string): TextColumnBuilder {
    let builder = this.#texts.get(name);
    if (!builder) {
      builder = new TextColumnBuilder(CHUNK_ROWS);
      this.#texts.set(name, builder);
    }
    return builder;
  }

  address(name: string): AddressColumnBuilder {
    let builder = this.#addresses.get(name);
    if (!builder) {
      builder = new AddressColumnBuilder(CHUNK_ROWS);
      this.#addresses.set(name, builder);
    }
    return builder;
  }

  number(name: string): NumberColumnBuilder {
    let builder = this.#numbers.get(name);
    if (!builder) {
      builder = new NumberColumnBuilder(CHUNK_ROWS);
      this.#numbers.set(name, builder);
    }
    return builder;
  }
}
