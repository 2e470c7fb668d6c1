import type { ColumnTable, RowCodes } from './column.js';
import { pairs } from './pairs.js';
import { rowCodes } from './row-codes.js';
import { gathered } from './take-rows.js';

/** The columns of requests that hold few values mostly, and that most of what is asked of requests is about. */
const OF_FEW_VALUES = ['host', 'method', 'scheme', 'protocol', 'port', 'status'];
/** A column that would make more kinds than this possible is left out: looking them up would cost more than it saves. */
const MOST_PAIRS = 2 ** 17;

/**
 * Which rows are alike: rows of one kind hold the same in every one of some columns. What hangs on these columns alone
 * is found for each kind, of which there are few, and not for each row.
 */
export interface Kinds {
  /** The kind of each row, counted from 0. */
  readonly codes: Uint32Array;
  /** A row of the table for each kind. Among a part of the table's rows not every kind need come up. */
  readonly examples: Uint32Array;
  /** Whether rows of one kind hold the same in the column. */
  holds(column: string): boolean;
}

/** The kinds of all rows of a table. A column that it does not have is absent of every row, and held so. */
export function kindsOf(table: ColumnTable): Kinds {
  let codes = new Uint32Array(table.rows);
  let examples: Uint32Array = new Uint32Array(table.rows > 0 ? 1 : 0);
  const left = new Set<string>();
  for (const name of OF_FEW_VALUES) {
    if (!table.columns.has(name)) continue;
    const column = rowCodes(table, name);
    if (column === undefined || examples.length * column.count > MOST_PAIRS) left.add(name);
    else ({ codes, examples } = narrowed(codes, examples, column));
  }
  return new TableKinds(codes, examples, table, left);
}

/** The kinds of some rows of the table. */
export const kindsIn = (kinds: Kinds, rows: Uint32Array): Kinds => new SomeKinds(kinds, rows);

function narrowed(codes: Uint32Array, examples: Uint32Array, column: RowCodes) {
  // The codes of the first column are kinds of their own, of which only those that come up get a number.
  const found = pairs(codes, examples.length, column.codes, column.count);
  return { codes: found.codes as Uint32Array<ArrayBuffer>, examples: Uint32Array.from(found.first) };
}

class TableKinds implements Kinds {
  readonly codes: Uint32Array;
  readonly examples: Uint32Array;
  readonly #table: ColumnTable;
  readonly #left: ReadonlySet<string>;

  constructor(codes: Uint32Array, examples: Uint32Array, table: ColumnTable, left: ReadonlySet<string>) {
    this.codes = codes;
    this.examples = examples;
    this.#table = table;
    this.#left = left;
  }

  holds(column: string): boolean {
    return !this.#left.has(column) && (OF_FEW_VALUES.includes(column) || !this.#table.columns.has(column));
  }
}

class SomeKinds implements Kinds {
  readonly codes: Uint32Array;
  readonly examples: Uint32Array;
  readonly #all: Kinds;

  constructor(all: Kinds, rows: Uint32Array) {
    this.codes = gathered(all.codes, rows);
    this.examples = all.examples;
    this.#all = all;
  }

  holds(column: string): boolean {
    return this.#all.holds(column);
  }
}
