import { type ColumnTable, gathered, type TextColumn, textCodes, type Zipped, zip } from '../../../column/index.js';
import { textColumn } from './columns.js';

/** Numbers the combinations of text columns: rows with the same number have the same texts. */
export interface Combinations {
  readonly codes: Uint32Array;
  /** The numbers lie below this; not every one need come up. */
  readonly count: number;
  /** The texts of a combination, column by column. */
  texts(number: number): readonly (string | undefined)[];
}

/** Numbers the combinations of the named columns in the rows. Columns that the chunk does not have are never seen. */
export function combine(table: ColumnTable, names: readonly string[], rows: Uint32Array): Combinations {
  const columns = names.map((name) => textColumn(table, name));
  const [only, other] = columns;
  return only !== undefined && other === undefined && columns.length === 1
    ? new OneColumn(only, rows)
    : new SeveralColumns(columns, rows);
}

/** The codes of one column are what its combinations are numbered by. */
class OneColumn implements Combinations {
  readonly codes: Uint32Array;
  readonly count: number;
  readonly #column: TextColumn;

  constructor(column: TextColumn, rows: Uint32Array) {
    this.codes = gathered(column.codes, rows);
    this.count = textCodes(column);
    this.#column = column;
  }

  texts(number: number): readonly [string | undefined] {
    return [number === 0 ? undefined : this.#column.dictionary[number - 1]];
  }
}

class SeveralColumns implements Combinations {
  readonly #columns: readonly (TextColumn | undefined)[];
  readonly #rows: Uint32Array;
  readonly #numbered: Zipped;

  constructor(columns: readonly (TextColumn | undefined)[], rows: Uint32Array) {
    this.#columns = columns;
    this.#rows = rows;
    let numbered: Zipped = { codes: new Uint32Array(rows.length), first: rows.length > 0 ? [0] : [] };
    for (const column of columns)
      if (column)
        numbered = zip(numbered.codes, numbered.first.length, gathered(column.codes, rows), textCodes(column));
    this.#numbered = numbered;
  }

  get codes(): Uint32Array {
    return this.#numbered.codes;
  }

  get count(): number {
    return this.#numbered.first.length;
  }

  texts(number: number): readonly (string | undefined)[] {
    const row = this.#rows[this.#numbered.first[number] as number] as number;
    return this.#columns.map((column) => column && textAt(column, row));
  }
}

function textAt(column: TextColumn, row: number): string | undefined {
  const code = column.codes[row] as number;
  return code === 0 ? undefined : column.dictionary[code - 1];
}
