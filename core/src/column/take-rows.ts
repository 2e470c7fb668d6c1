import type { AddressColumn, Column, ColumnTable, TextColumn } from './column.js';

/** A table of the given rows only, in their order. Dictionaries stay as they are. */
export function takeRows(table: ColumnTable, rows: Uint32Array): ColumnTable {
  const columns = new Map([...table.columns].map(([name, column]) => [name, taken(column, rows)]));
  return { rows: rows.length, columns };
}

function taken(column: Column, rows: Uint32Array): Column {
  switch (column.type) {
    case 'number': {
      const { values } = column;
      return { type: 'number', values: Float64Array.from(rows, (row) => values[row] as number) };
    }
    case 'text':
      return { type: 'text', dictionary: column.dictionary, bytes: column.bytes, codes: codesOf(column, rows) };
    case 'address':
      return { type: 'address', four: column.four, six: column.six, codes: codesOf(column, rows) };
  }
}

const codesOf = ({ codes }: TextColumn | AddressColumn, rows: Uint32Array): Uint32Array =>
  rows.map((row) => codes[row] as number);
