/** A column of values, one a row, in typed arrays. */
export type Column = TextColumn | NumberColumn | AddressColumn;

/** A code for each row. All of one width in memory, which loops over them are fast for; stored as narrow as they are. */
export type Codes = Uint32Array;

/** IP addresses by code: 0 is absent, those from 1 are IPv4 as one word each, and those behind IPv6 as four. */
export interface AddressDictionary {
  readonly four: Uint32Array;
  /** The most significant word of each comes first. */
  readonly six: Uint32Array;
}

/** IP addresses by dictionary, which is in the order of the addresses. */
export interface AddressColumn extends AddressDictionary {
  readonly type: 'address';
  readonly codes: Codes;
}

/** Texts by dictionary: code 0 is absent, code n is entry n − 1. */
export interface TextColumn {
  readonly type: 'text';
  readonly dictionary: readonly string[];
  readonly codes: Codes;
  /** The dictionary as bytes, where it came as such. */
  readonly bytes?: TextBytes | undefined;
}

/** Texts in UTF-8, one behind the other. */
export interface TextBytes {
  readonly texts: Uint8Array;
  /** Where each text ends; it starts where the one before it ends. */
  readonly ends: Uint32Array;
}

/** Numbers; NaN is absent. */
export interface NumberColumn {
  readonly type: 'number';
  readonly values: Float64Array;
  /** The value of one row, where it can be read without all others. */
  readonly at?: (row: number) => number;
  /** Codes of the rows, where the column is stored as such. */
  readonly coded?: () => RowCodes | undefined;
}

/** A code for each row, below the count: rows of the same code hold the same. */
export interface RowCodes {
  readonly codes: Codes;
  readonly count: number;
}

export type Columns = ReadonlyMap<string, Column>;

/** A table of columns that all have the same number of rows. */
export interface ColumnTable {
  readonly rows: number;
  readonly columns: Columns;
}
