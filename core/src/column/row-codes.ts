import type { ColumnTable, NumberColumn, RowCodes } from './column.js';
import { textCodes } from './texts.js';

/** Whole numbers below this, such as ports and statuses, are looked up in a table. */
const NUMBERS = 2 ** 16;

/** The codes of a column of texts or numbers; undefined where it has none, as of numbers that are large or not whole. */
export function rowCodes({ columns }: ColumnTable, name: string): RowCodes | undefined {
  const column = columns.get(name);
  if (column?.type === 'text') return { codes: column.codes, count: textCodes(column) };
  return column?.type === 'number' ? (column.coded?.() ?? numbered(column)) : undefined;
}

/** Numbers the values from 1 on, in the order in which they come; 0 is absent. */
function numbered({ values }: NumberColumn): RowCodes | undefined {
  const codes = new Uint32Array(values.length);
  const known = new Uint32Array(NUMBERS);
  let count = 1;
  for (let row = 0; row < codes.length; row++) {
    const value = values[row] as number;
    if (Number.isNaN(value)) continue;
    const number = value >>> 0;
    if (number !== value || number >= NUMBERS) return undefined;
    if (known[number] === 0) known[number] = count++;
    codes[row] = known[number] as number;
  }
  return { codes, count };
}
