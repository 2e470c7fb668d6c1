import { promisify } from 'node:util';
import { constants, deflateRawSync, inflateRaw, inflateRawSync, inflateSync } from 'node:zlib';
import { type ColumnTable, decodeTable, encodeTable, type Packing, packedBodies } from '@jade-fence/core/column';

const LARGEST_COLUMN = 1024 * 1024 * 1024;
/** What most columns fit in, so that they are not put together from pieces. */
const PIECE = 128 * 1024;
const LIMITS = { maxOutputLength: LARGEST_COLUMN, chunkSize: PIECE };
/** What is left in codes and small numbers are frequencies, hardly repetitions: looking for these costs most, and gains nothing. */
const HUFFMAN = { level: 1, strategy: constants.Z_HUFFMAN_ONLY, chunkSize: PIECE };

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

/** A table of which columns can be unpacked beside the thread's other work, before they are looked at. */
export interface TableAside {
  readonly table: ColumnTable;
  /** Unpacks all columns, on threads kept for that. */
  readonly unpacked: () => Promise<void>;
}

/** As `unpackTable`, for threads that are not to be kept busy. */
export function unpackTableAside(bytes: Uint8Array): TableAside {
  if (bytes[0] === ZLIB) return { table: unpackTable(bytes), unpacked: async () => undefined };
  const ready = new Map<number, Uint8Array>();
  const unpack = (packed: Uint8Array) => ready.get(packed.byteOffset) ?? DEFLATE.unpack(packed);
  const unpacked = async () => {
    await Promise.all(
      packedBodies(bytes).map(async (body) => ready.set(body.byteOffset, await inflateAside(body, LIMITS))),
    );
  };
  return { table: decodeTable(bytes, { ...DEFLATE, unpack }), unpacked };
}

const inflateAside = promisify<Uint8Array, typeof LIMITS, Buffer>(inflateRaw);

/** The first byte of the zlib format, which no table begins with. */
const ZLIB = 0x78;
