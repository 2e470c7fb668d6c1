export { AddressColumnBuilder, addressCodes, addressOf } from './addresses.js';
export { CodedTextBuilder, NumberColumnBuilder, TextColumnBuilder } from './builder.js';
export type {
  AddressColumn,
  Codes,
  Column,
  Columns,
  ColumnTable,
  NumberColumn,
  TextBytes,
  TextColumn,
} from './column.js';
export { decodeTable, encodeTable, LayoutError } from './layout.js';
export { takeRows } from './take-rows.js';
export { mix, WordTable } from './word-table.js';
