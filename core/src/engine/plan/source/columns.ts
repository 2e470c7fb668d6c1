import type { ColumnTable, TextColumn } from '../../../column/index.js';

export function textColumn({ columns }: ColumnTable, name: string): TextColumn | undefined {
  const column = columns.get(name);
  return column?.type === 'text' ? column : undefined;
}

export function numberColumn({ columns }: ColumnTable, name: string): Float64Array | undefined {
  const column = columns.get(name);
  return column?.type === 'number' ? column.values : undefined;
}

/** How many codes a column has, 0 included. Texts that are bytes yet are not decoded for this. */
export const textCodes = (column: TextColumn): number => 1 + (column.bytes?.ends.length ?? column.dictionary.length);

let ascending = new Uint32Array(0);

/** All rows of a chunk of so many. To be read only: all who ask share them. */
export function allRows(count: number): Uint32Array {
  if (ascending.length < count) {
    ascending = new Uint32Array(2 ** Math.ceil(Math.log2(count)));
    for (let row = 0; row < ascending.length; row++) ascending[row] = row;
  }
  return ascending.subarray(0, count);
}
