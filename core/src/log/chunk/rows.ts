import type { Address } from '../../address/index.js';
import { addressOf, type ColumnTable, numberAt, textReader } from '../../column/index.js';
import {
  ADDRESS_FIELDS,
  makeRequest,
  NUMBER_FIELDS,
  type Request,
  TEXT_FIELDS,
  unpackValues,
} from '../../request/index.js';
import { addressColumn } from './addresses.js';

type TextAt = (row: number) => string | undefined;
type AddressAt = (row: number) => Address | undefined;
type NumberAt = (row: number) => number | undefined;

/** Reads the requests of a chunk back, row by row. What a dictionary says is parsed once, not once a row. */
export class ChunkRows {
  readonly rows: number;
  readonly #table: ColumnTable;
  readonly #addresses: ReadonlyMap<(typeof ADDRESS_FIELDS)[number], AddressAt>;
  readonly #groups: TextAt;
  readonly #met: TextAt;
  readonly #allHeaders: TextAt;
  readonly #texts: ReadonlyMap<(typeof TEXT_FIELDS)[number], TextAt>;
  readonly #numbers: ReadonlyMap<(typeof NUMBER_FIELDS)[number], NumberAt>;
  readonly #headers: readonly (readonly [string, TextAt])[];
  readonly #line: NumberAt;

  constructor(table: ColumnTable) {
    this.rows = table.rows;
    this.#table = table;
    this.#addresses = new Map(ADDRESS_FIELDS.map((name) => [name, this.#address(name)]));
    this.#groups = this.#text('groups');
    this.#met = this.#text('met');
    this.#allHeaders = this.#text('all-headers');
    this.#texts = new Map(TEXT_FIELDS.map((field) => [field, this.#text(field)]));
    this.#numbers = new Map(NUMBER_FIELDS.map((field) => [field, this.#number(field)]));
    this.#headers = [...table.columns.keys()]
      .filter((name) => name.startsWith('header.'))
      .map((name) => [name.slice('header.'.length), this.#text(name)] as const);
    this.#line = this.#number('line');
  }

  /** The line of the file that the row was read from. */
  line(row: number): number {
    return this.#line(row) ?? 0;
  }

  request(row: number): Request {
    const text = (field: (typeof TEXT_FIELDS)[number]) => this.#texts.get(field)?.(row);
    const number = (field: (typeof NUMBER_FIELDS)[number]) => this.#numbers.get(field)?.(row);
    return makeRequest({
      time: number('time'),
      peer: this.#addresses.get('peer')?.(row),
      destination: this.#addresses.get('destination')?.(row),
      groups: parts(this.#groups(row)),
      met: parts(this.#met(row)),
      allHeaders: this.#allHeaders(row) !== undefined,
      method: text('method'),
      scheme: text('scheme'),
      host: text('host'),
      port: number('port'),
      path: text('path'),
      query: text('query'),
      protocol: text('protocol'),
      user: text('user'),
      agent: text('agent'),
      referrer: text('referrer'),
      size: number('size'),
      status: number('status'),
      bytes: number('bytes'),
      ...(this.#headers.length > 0 ? { headers: this.#headersOf(row) } : {}),
    });
  }

  #address(name: string): AddressAt {
    const column = addressColumn(this.#table, name);
    if (column === undefined) return () => undefined;
    return (row) => addressOf(column, column.codes[row] as number);
  }

  #headersOf(row: number): Map<string, readonly string[]> {
    const found = new Map<string, readonly string[]>();
    for (const [name, at] of this.#headers) {
      const value = at(row);
      if (value !== undefined) found.set(name, unpackValues(value));
    }
    return found;
  }

  #text(name: string): TextAt {
    const column = this.#table.columns.get(name);
    if (column?.type !== 'text') return () => undefined;
    // A reader of a few rows need not wait for the whole chunk.
    let read: ((code: number) => string | undefined) | undefined;
    return (row) => {
      read ??= textReader(column);
      return read(column.codes[row] as number);
    };
  }

  #number(name: string): NumberAt {
    const column = this.#table.columns.get(name);
    if (column?.type !== 'number') return () => undefined;
    return (row) => {
      const value = numberAt(column, row);
      return Number.isNaN(value) ? undefined : value;
    };
  }
}

const parts = (text: string | undefined): string[] | undefined =>
  text === undefined ? undefined : text === '' ? [] : text.split('\n');
