import { type ColumnTable, numberAt, type TextColumn } from '../../../column/index.js';

/** The column of texts with this name; undefined where the table has none. It is the table's own. */
export function textColumn({ columns }: ColumnTable, name: string): TextColumn | undefined {
  const column = columns.get(name);
  return column?.type === 'text' ? column : undefined;
}

/**
 * The values of the column of numbers, NaN where a row has none; undefined where the table has no such column. They are
 * the table's own.
 */
export function numberColumn({ columns }: ColumnTable, name: string): Float64Array | undefined {
  const column = columns.get(name);
  return column?.type === 'number' ? column.values : undefined;
}

/** A column's numbers are read one by one for fewer rows than this share of it. */
const FEW = 8;

/** The numbers of rows of a column, NaN for none; undefined when the table has no such column. */
export function numbersOf({ columns, rows }: ColumnTable, name: string, of: Uint32Array): Float64Array | undefined {
  const column = columns.get(name);
  if (column?.type !== 'number') return undefined;
  const found = new Float64Array(of.length);
  if (of.length * FEW < rows) {
    for (let at = 0; at < of.length; at++) found[at] = numberAt(column, of[at] as number);
    return found;
  }
  const { values } = column;
  if (of.length === rows) return values;
  for (let at = 0; at < of.length; at++) found[at] = values[of[at] as number] as number;
  return found;
}

let ascending = new Uint32Array(0);

/** The selection of all rows of a chunk of this size. Shared by all callers, so read-only. */
export function allRows(count: number): Uint32Array {
  if (ascending.length < count) {
    ascending = new Uint32Array(2 ** Math.ceil(Math.log2(count)));
    for (let row = 0; row < ascending.length; row++) ascending[row] = row;
  }
  return ascending.subarray(0, count);
}
