import type { Address } from '../../../address/index.js';
import {
  type AddressColumn,
  addressCodes,
  addressOf,
  type Codes,
  type ColumnTable,
  type TextColumn,
} from '../../../column/index.js';
import { addressColumn } from '../../../log/index.js';
import type { Partition } from '../partition/partition.js';

/** Rows of a chunk that one policy judges together. */
export interface Block {
  readonly table: ColumnTable;
  /** The rows of the chunk, in order. */
  readonly rows: Uint32Array;
  /** The clients of the rows, as the policy resolves them. */
  readonly clients: Clients;
}

/** Addresses of rows, by codes: each distinct one is looked at once. */
export interface Addresses {
  readonly codes: Codes | Int32Array;
  /** How many codes there are. */
  readonly count: number;
  readonly at: (code: number) => Address | undefined;
  /** The column that the codes are of, where they are of one. */
  readonly column: AddressColumn | undefined;
}

export interface Clients extends Addresses {
  /** The class of each row's client in the partition that policies share; `UNSEEN_CLIENT` where it is not known. */
  readonly classes: Int32Array;
}

export const UNSEEN_CLIENT = -1;

/** All rows of a chunk of so many. */
export function allRows(count: number): Uint32Array {
  const rows = new Uint32Array(count);
  for (let row = 0; row < count; row++) rows[row] = row;
  return rows;
}

/** The classes of all codes of addresses in a partition. */
export function classesOf(addresses: Addresses, partition: Partition): Int32Array {
  const { column, count } = addresses;
  const classes = new Int32Array(count).fill(UNSEEN_CLIENT);
  if (column === undefined) {
    for (let code = 0; code < count; code++) {
      const address = addresses.at(code);
      if (address) classes[code] = partition.classOf(address);
    }
    return classes;
  }
  const { four, six } = column;
  partition.classesOfFour(four, classes, 1);
  for (let at = 0, code = four.length + 1; at < six.length; at += 4, code++)
    classes[code] = partition.classOfSix(
      six[at] as number,
      six[at + 1] as number,
      six[at + 2] as number,
      six[at + 3] as number,
    );
  return classes;
}

/** The addresses of a column in the rows. */
export function addressesIn(table: ColumnTable, name: string, rows: Uint32Array): Addresses {
  const column = addressColumn(table, name);
  if (column === undefined) return { codes: new Uint32Array(rows.length), count: 1, at: () => undefined, column };
  return {
    codes: gathered(column.codes, rows),
    count: addressCodes(column),
    at: (code) => addressOf(column, code),
    column,
  };
}

/** The codes of the rows; the column's own where they are all of its rows. */
function gathered(codes: Codes, rows: Uint32Array): Codes | Int32Array {
  if (rows.length === codes.length) return codes;
  const found = new Int32Array(rows.length);
  for (let at = 0; at < rows.length; at++) found[at] = codes[rows[at] as number] as number;
  return found;
}

export function textColumn({ columns }: ColumnTable, name: string): TextColumn | undefined {
  const column = columns.get(name);
  return column?.type === 'text' ? column : undefined;
}

export function numberColumn({ columns }: ColumnTable, name: string): Float64Array | undefined {
  const column = columns.get(name);
  return column?.type === 'number' ? column.values : undefined;
}

/** What text columns hold in a row together, numbered: rows of the same number hold the same texts. */
export interface Combinations {
  readonly codes: Int32Array;
  /** The texts of each combination, column by column. */
  readonly texts: readonly (readonly (string | undefined)[])[];
}

/** Numbers the combinations of the named columns in the rows. Columns that the chunk does not have are never seen. */
export function combine(table: ColumnTable, names: readonly string[], rows: Uint32Array): Combinations {
  const columns = names.map((name) => textColumn(table, name));
  const there = columns.filter((column) => column !== undefined);
  const textsOf = (row: number) => columns.map((column) => column?.dictionary[(column.codes[row] as number) - 1]);
  let numbered: Pairs = { codes: new Int32Array(rows.length), first: rows.length > 0 ? [0] : [] };
  for (const { codes, dictionary } of there)
    numbered = pairs(numbered.codes, numbered.first.length, gathered(codes, rows), dictionary.length + 1);
  return { codes: numbered.codes, texts: numbered.first.map((at) => textsOf(rows[at] as number)) };
}

/** So many pairs are looked up in an array; of more a map does it. */
const MOST_IN_ARRAY = 2 ** 20;

/** What pairs are numbered as; −1 for one that is not numbered yet. */
class PairArray {
  readonly #numbers: Int32Array;

  constructor(size: number) {
    this.#numbers = new Int32Array(size).fill(-1);
  }

  get(pair: number): number {
    return this.#numbers[pair] as number;
  }

  set(pair: number, number: number): void {
    this.#numbers[pair] = number;
  }
}

class PairMap {
  readonly #numbers = new Map<number, number>();

  get(pair: number): number {
    return this.#numbers.get(pair) ?? -1;
  }

  set(pair: number, number: number): void {
    this.#numbers.set(pair, number);
  }
}

/** Pairs by number, from 0 in the order in which they come, and where each came first. */
export interface Pairs {
  readonly codes: Int32Array;
  readonly first: readonly number[];
}

/** Numbers the pairs of two numberings of the same rows, each of which lies below its count. */
export function pairs(a: ArrayLike<number>, aCount: number, b: ArrayLike<number>, bCount: number): Pairs {
  const known = aCount * bCount <= MOST_IN_ARRAY ? new PairArray(aCount * bCount) : new PairMap();
  const codes = new Int32Array(a.length);
  const first: number[] = [];
  for (let at = 0; at < codes.length; at++) {
    const pair = (a[at] as number) * bCount + (b[at] as number);
    let number = known.get(pair);
    if (number < 0) {
      number = first.push(at) - 1;
      known.set(pair, number);
    }
    codes[at] = number;
  }
  return { codes, first };
}
