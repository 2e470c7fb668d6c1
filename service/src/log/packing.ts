import { deflateSync, inflateSync } from 'node:zlib';
import { type ColumnTable, decodeTable, encodeTable } from '@jade-fence/core';

/** Level 1: a chunk is written once and read often, and higher levels gain little on dictionary codes. */
const LEVEL = 1;
const LARGEST_CHUNK = 1024 * 1024 * 1024;

/** A table as it is stored: its layout, deflated. Meant for worker threads; it keeps its thread busy. */
export function packTable(table: ColumnTable): Uint8Array {
  return deflateSync(encodeTable(table), { level: LEVEL });
}

export function unpackTable(bytes: Uint8Array): ColumnTable {
  return decodeTable(inflateSync(bytes, { maxOutputLength: LARGEST_CHUNK }));
}
