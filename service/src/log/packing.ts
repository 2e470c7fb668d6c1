import { constants, deflateRawSync, inflateRawSync, inflateSync } from 'node:zlib';
import { type ColumnTable, decodeTable, encodeTable, type Packing } from '@jade-fence/core';

const LARGEST_COLUMN = 1024 * 1024 * 1024;
const LIMITS = { maxOutputLength: LARGEST_COLUMN };
/** What is left in codes and small numbers are frequencies, hardly repetitions: looking for these costs most, and gains nothing. */
const HUFFMAN = { level: 1, strategy: constants.Z_HUFFMAN_ONLY };

const DEFLATE: Packing = {
  pack: (body) => deflateRawSync(body, HUFFMAN),
  unpack: (packed) => inflateRawSync(packed, LIMITS),
};

/** A table as it is stored. Meant for worker threads; it keeps its thread busy. */
export function packTable(table: ColumnTable): Uint8Array {
  return encodeTable(table, DEFLATE);
}

/** Tables of before version 3 were deflated as a whole. */
export function unpackTable(bytes: Uint8Array): ColumnTable {
  const whole = bytes[0] === ZLIB;
  return decodeTable(whole ? inflateSync(bytes, LIMITS) : bytes, DEFLATE);
}

/** The first byte of the zlib format, which no table begins with. */
const ZLIB = 0x78;
