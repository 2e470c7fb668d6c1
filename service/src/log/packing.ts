import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';
import { type ColumnTable, decodeTable, encodeTable } from '@jade-fence/core';

const deflated = promisify(deflate);
const inflated = promisify(inflate);

/** Level 1: a chunk is written once and read often, and higher levels gain little on dictionary codes. */
const LEVEL = 1;
const LARGEST_CHUNK = 1024 * 1024 * 1024;

/** A table as it is stored: its layout, deflated. */
export async function packTable(table: ColumnTable): Promise<Buffer> {
  return deflated(encodeTable(table), { level: LEVEL });
}

export async function unpackTable(bytes: Buffer): Promise<ColumnTable> {
  return decodeTable(await inflated(bytes, { maxOutputLength: LARGEST_CHUNK }));
}
