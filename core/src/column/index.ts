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
export { decodeTable, packedBodies } from './decode-table.js';
export { encodeTable } from './encode-table.js';
export { HASH_START, hashByte, hashBytes, hashSecrets, hashWord, seedHashes, slotBy, slotFor } from './hash.js';
export {
  addressCodes,
  codeOffsets,
  joinAddresses,
  joinDictionaries,
} from './joined-addresses.js';
export { LayoutError } from './layout-error.js';
export type { Packing } from './packed.js';
export { OF_FEW_VALUES, type RowKinds, rowKinds, rowKindsIn, rowKindsOfExamples } from './row-kinds.js';
export { gathered, takeRows } from './take-rows.js';
export { TextArena } from './text-arena.js';
export {
  ChunkTexts,
  NOT_KNOWN_BY_ID,
  NumbersById,
  type TextIds,
  TextInterners,
} from './text-interner.js';
export { TextMap } from './text-map.js';
export { textCodes, textReader } from './texts.js';
export { tupleKey, tupleOf } from './tuple-key.js';
export { numberAt } from './whole.js';
export { WordTable } from './word-table.js';
export { type Zipped, zip } from './zip.js';
