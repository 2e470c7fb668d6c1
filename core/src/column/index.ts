export { hasBit, makeBits, setBit } from './bits.js';
export { CodedTextBuilder, NumberColumnBuilder, TextColumnBuilder } from './builder.js';
export type { BitsColumn, Column, Columns, ColumnTable, NumberColumn, SmallColumn, TextColumn } from './column.js';
export { decodeTable, encodeTable, LayoutError } from './layout.js';
