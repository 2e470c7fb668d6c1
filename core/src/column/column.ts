/** A column of values, one a row, in typed arrays. */
export type Column = TextColumn | NumberColumn | SmallColumn | BitsColumn;

/** Texts by dictionary: code 0 is absent, code n is entry n − 1. */
export interface TextColumn {
  readonly type: 'text';
  readonly dictionary: readonly string[];
  readonly codes: Uint8Array | Uint16Array | Uint32Array;
}

/** Numbers; NaN is absent. */
export interface NumberColumn {
  readonly type: 'number';
  readonly values: Float64Array;
}

/** Whole numbers from 0 to 65,535. */
export interface SmallColumn {
  readonly type: 'small';
  readonly values: Uint16Array;
}

/** One bit a row, the lowest bit of each byte first. */
export interface BitsColumn {
  readonly type: 'bits';
  readonly bits: Uint8Array;
}

export type Columns = ReadonlyMap<string, Column>;

/** A table of columns that all have the same number of rows. */
export interface ColumnTable {
  readonly rows: number;
  readonly columns: Columns;
}
