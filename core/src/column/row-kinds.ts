import type { Kernel } from '../kernel/index.js';
import type { ColumnTable, RowCodes } from './column.js';
import { rowCodes } from './row-codes.js';
import { gathered } from './take-rows.js';

/** The columns of requests that hold few values mostly, and that most of what is asked of requests is about. */
export const OF_FEW_VALUES: readonly string[] = ['host', 'method', 'scheme', 'protocol', 'port', 'status'];
/** A column that would make more kinds than this possible is left out: looking them up would cost more than it saves. */
const MOST_PAIRS = 2 ** 17;

/**
 * Kinds of rows: rows of one kind have the same values in some columns. Work that depends on these columns only is done
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
export function rowKinds(table: ColumnTable, kernel: Kernel): RowKinds {
  kernel.reset();
  const none = new Uint32Array(table.rows);
  const codes = kernel.put(none);
  let examples: Uint32Array = new Uint32Array(table.rows > 0 ? 1 : 0);
  const left = new Set<string>();
  const waiting: RowCodes[] = [];
  const narrow = () => {
    const [one, other = { codes: none, count: 1 }] = waiting.splice(0) as [RowCodes, RowCodes?];
    examples = narrowed(kernel, codes, examples.length, one, other);
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
  return { codes: kernel.words(codes, table.rows).slice(), examples, holds };
}

/** The kinds of some rows of the table, given those of all. */
export const rowKindsIn = ({ codes, examples, holds }: RowKinds, rows: Uint32Array): RowKinds => ({
  codes: gathered(codes, rows),
  examples,
  holds,
});

/** The kinds of the examples of kinds: each is of its own. */
export const rowKindsOfExamples = ({ examples, holds }: RowKinds): RowKinds => ({
  codes: examples.map((_, kind) => kind),
  examples,
  holds,
});

/**
 * Tells rows of one kind apart by two columns too, in one go, over the codes at a pointer of the kernel. Answers the first
 * row of each kind then.
 */
function narrowed(kernel: Kernel, codes: number, kinds: number, one: RowCodes, other: RowCodes): Uint32Array {
  const rows = one.codes.length;
  const pairs = kinds * one.count * other.count;
  const [ones, others] = [kernel.put(one.codes), kernel.put(other.codes)];
  const [known, examples] = [kernel.take(pairs * 4), kernel.take(rows * 4)];
  kernel.words(known, pairs).fill(0);
  const found = kernel.calls.narrow(codes, ones, one.count, others, other.count, known, rows, examples);
  return kernel.words(examples, found).slice();
}
