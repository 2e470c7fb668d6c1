import type { ColumnTable, RowCodes } from './column.js';
import { rowCodes } from './row-codes.js';
import { gathered } from './take-rows.js';

/** The columns of requests that hold few values mostly, and that most of what is asked of requests is about. */
export const OF_FEW_VALUES: readonly string[] = ['host', 'method', 'scheme', 'protocol', 'port', 'status'];
/** A column that would make more kinds than this possible is left out: looking them up would cost more than it saves. */
const MOST_PAIRS = 2 ** 17;

/**
 * RowKinds of rows: rows of one kind have the same values in some columns. Work that depends on these columns only is done
 * once a kind, of which there are few, and not once a row.
 */
export interface RowKinds {
  /** The kind of each row, counted from 0. */
  readonly codes: Uint32Array;
  /** A row of the table for each kind. Among a part of the table's rows not every kind need come up. */
  readonly examples: Uint32Array;
  /** Whether rows of one kind hold the same in the column. */
  readonly holds: (column: string) => boolean;
}

/** The kinds of all rows of a table. A column that it does not have is absent of every row, and held so. */
export function rowKinds(table: ColumnTable): RowKinds {
  const codes = new Uint32Array(table.rows);
  let examples: Uint32Array = new Uint32Array(table.rows > 0 ? 1 : 0);
  const left = new Set<string>();
  const waiting: RowCodes[] = [];
  const narrow = () => {
    const [one, other = { codes: new Uint32Array(table.rows), count: 1 }] = waiting.splice(0) as [RowCodes, RowCodes?];
    examples = narrowed(codes, examples.length, one, other);
  };
  for (const name of OF_FEW_VALUES) {
    if (!table.columns.has(name)) continue;
    const column = rowCodes(table, name);
    const pairs = examples.length * waiting.reduce((product, { count }) => product * count, column?.count ?? 0);
    if (column && waiting.length === 1 && pairs > MOST_PAIRS) narrow();
    if (column === undefined || examples.length * column.count > MOST_PAIRS) left.add(name);
    else if (waiting.push(column) === 2) narrow();
  }
  if (waiting.length > 0) narrow();
  const holds = (column: string) => !left.has(column) && (OF_FEW_VALUES.includes(column) || !table.columns.has(column));
  return { codes, examples, holds };
}

/** The kinds of some rows of the table, given those of all. */
export const rowKindsIn = ({ codes, examples, holds }: RowKinds, rows: Uint32Array): RowKinds => ({
  codes: gathered(codes, rows),
  examples,
  holds,
});

/** The kinds of the examples of kinds: each is of its own. */
export const rowKindsOfExamples = ({ examples, holds }: RowKinds): RowKinds => ({
  codes: Uint32Array.from(examples.keys()),
  examples,
  holds,
});

/** Tells rows of one kind apart by two columns too, in one go. Answers the first row of each kind then. */
function narrowed(codes: Uint32Array, kinds: number, one: RowCodes, other: RowCodes): Uint32Array {
  const { codes: own, count } = one;
  const { codes: others, count: otherCount } = other;
  // The number of a pair plus one; 0: not numbered yet.
  const known = new Uint32Array(kinds * count * otherCount);
  const examples: number[] = [];
  for (let row = 0; row < codes.length; row++) {
    const pair = ((codes[row] as number) * count + (own[row] as number)) * otherCount + (others[row] as number);
    let number = known[pair] as number;
    if (number === 0) {
      number = examples.push(row);
      known[pair] = number;
    }
    codes[row] = number - 1;
  }
  return Uint32Array.from(examples);
}
