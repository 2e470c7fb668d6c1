export { AddressColumnBuilder, addressOf } from './addresses.js';
export { bloomMayHold, bloomOf } from './bloom.js';
export { CodedTextBuilder, NumberColumnBuilder, TextColumnBuilder } from './builder.js';
export type {
  AddressColumn,
  AddressDictionary,
  Codes,
  Column,
  Columns,
  ColumnTable,
  NumberColumn,
  RowCodes,
  TextBytes,
  TextColumn,
} from './column.js';
export {
  addressCodes,
  codeOffsets,
  joinAddresses,
  joinDictionaries,
} from './joined-addresses.js';
export { type Kinds, kindsIn, kindsOf, kindsOfExamples, OF_FEW_VALUES } from './kinds.js';
export { decodeTable, encodeTable, packedBodies } from './layout.js';
export { LayoutError } from './layout-error.js';
export type { Packing } from './packed.js';
export { type Pairs, pairs } from './pairs.js';
export { gathered, takeRows } from './take-rows.js';
export { HASH_START, hashByte, TextArena } from './text-arena.js';
export { textCodes, textReader } from './texts.js';
export { numberAt } from './whole.js';
export { mix, WordTable } from './word-table.js';
