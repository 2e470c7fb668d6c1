export { AddressColumnBuilder, addressCodes, addressOf } from './addresses.js';
export { hasBit, makeBits, setBit } from './bits.js';
export { CodedTextBuilder, NumberColumnBuilder, TextColumnBuilder } from './builder.js';
export type {
  AddressColumn,
  BitsColumn,
  Codes,
  Column,
  Columns,
  ColumnTable,
  NumberColumn,
  SmallColumn,
  TextBytes,
  TextColumn,
} from './column.js';
export { decodeTable, encodeTable, LayoutError } from './layout.js';
