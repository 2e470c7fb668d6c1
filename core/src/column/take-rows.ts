import type { Codes, Column, ColumnTable } from './column.js';

/** A table of the given rows only, which are in order. Dictionaries stay as they are. */
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
      return { type: 'text', dictionary: column.dictionary, bytes: column.bytes, codes: gathered(column.codes, rows) };
    case 'address':
      return { type: 'address', four: column.four, six: column.six, codes: gathered(column.codes, rows) };
  }
}

/** The codes of the rows; the same array where they are all that there are, since rows are in order. */
export function gathered(codes: Codes, rows: Uint32Array): Codes {
  if (rows.length === codes.length) return codes;
  const found = new Uint32Array(rows.length);
  for (let at = 0; at < rows.length; at++) found[at] = codes[rows[at] as number] as number;
  return found;
}
