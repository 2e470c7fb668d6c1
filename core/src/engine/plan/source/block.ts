import type { Address } from '../../../address/index.js';
import type { ColumnTable, TextColumn } from '../../../column/index.js';

/** Rows of a chunk that one policy judges together. */
export interface Block {
  readonly table: ColumnTable;
  /** The rows of the chunk, in order. */
  readonly rows: Uint32Array;
  readonly clients: Clients;
}

/** The clients of a block's rows, as the policy resolves them: each distinct one once. */
export interface Clients {
  readonly codes: Int32Array;
  readonly addresses: readonly (Address | undefined)[];
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
  const codes = new Int32Array(rows.length);
  const texts: (string | undefined)[][] = [];
  const textsOf = (row: number) => columns.map((column) => column?.dictionary[(column.codes[row] as number) - 1]);
  const [only] = there;
  if (only === undefined) {
    if (rows.length > 0) texts.push(textsOf(rows[0] as number));
    return { codes, texts };
  }
  const known = new Map<number | string, number>();
  const byCode = new Int32Array(only.dictionary.length + 1).fill(-1);
  const exact =
    there.reduce((product, { dictionary }) => product * (dictionary.length + 1), 1) < Number.MAX_SAFE_INTEGER;
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at] as number;
    let number: number | undefined;
    if (there.length === 1) {
      const code = only.codes[row] as number;
      number = byCode[code] as number;
      if (number < 0) number = byCode[code] = texts.push(textsOf(row)) - 1;
    } else {
      const key = exact ? numberKey(there, row) : textKey(there, row);
      number = known.get(key);
      if (number === undefined) {
        number = texts.push(textsOf(row)) - 1;
        known.set(key, number);
      }
    }
    codes[at] = number;
  }
  return { codes, texts };
}

function numberKey(columns: readonly TextColumn[], row: number): number {
  let key = 0;
  for (const { dictionary, codes } of columns) key = key * (dictionary.length + 1) + (codes[row] as number);
  return key;
}

const textKey = (columns: readonly TextColumn[], row: number): string => columns.map(({ codes }) => codes[row]).join();
