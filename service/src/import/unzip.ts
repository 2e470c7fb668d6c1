import { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { Refusal, refusal } from '../fault/refusal.js';
import { tooLarge } from './too-large.js';

/** The first bytes of packed files, and what packs them. */
const PACKERS = [
  { magic: [0x1f, 0x8b], name: 'gzip' },
  { magic: [0x28, 0xb5, 0x2f, 0xfd], name: 'zstd' },
  { magic: [0x42, 0x5a, 0x68], name: 'bzip2' },
  { magic: [0xfd, 0x37, 0x7a, 0x58, 0x5a], name: 'xz' },
  { magic: [0x50, 0x4b, 0x03, 0x04], name: 'zip' },
] as const;
const LONGEST_MAGIC = 5;

/** The bytes of a log, unpacked where they are packed with gzip, of any number of members. */
export async function* unzipped(bytes: AsyncIterable<Buffer>, maxBytes: number): AsyncGenerator<Buffer> {
  const pieces = bytes[Symbol.asyncIterator]();
  const start = await firstBytes(pieces);
  const packer = PACKERS.find(({ magic }) => magic.every((byte, at) => start[at] === byte))?.name;
  if (packer === undefined) yield* chained(start, pieces);
  else if (packer === 'gzip') yield* gunzipped(limited(chained(start, pieces), maxBytes));
  else throw refusal('compressed-log', { packer });
}

/** Enough of the first bytes to recognise the format. */
async function firstBytes(pieces: AsyncIterator<Buffer>): Promise<Buffer> {
  let start: Buffer = Buffer.alloc(0);
  while (start.length < LONGEST_MAGIC) {
    const next = await pieces.next();
    if (next.done) break;
    start = start.length === 0 ? next.value : Buffer.concat([start, next.value]);
  }
  return start;
}

async function* chained(start: Buffer, pieces: AsyncIterator<Buffer>): AsyncGenerator<Buffer> {
  if (start.length > 0) yield start;
  for (let next = await pieces.next(); !next.done; next = await pieces.next()) yield next.value;
}

async function* limited(pieces: AsyncIterable<Buffer>, maxBytes: number): AsyncGenerator<Buffer> {
  let size = 0;
  for await (const piece of pieces) {
    size += piece.length;
    if (size > maxBytes) throw tooLarge(maxBytes);
    yield piece;
  }
}

async function* gunzipped(packed: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  const source = Readable.from(packed);
  const gunzip = createGunzip({ chunkSize: 1 << 18 });
  source.on('error', (error) => gunzip.destroy(error));
  source.pipe(gunzip);
  try {
    for await (const piece of gunzip) yield piece as Buffer;
  } catch (error) {
    throw error instanceof Error && 'code' in error && /^Z_/.test(String(error.code)) ? damaged(error) : error;
  } finally {
    source.destroy();
  }
}

/** Of half a file the half that is there could be taken for all of it, so that nothing is. */
function damaged({ message }: Error): Refusal {
  const detail =
    message === 'unexpected end of file' ? 'The packed log is cut off' : `The packed log is damaged (${message})`;
  return refusal('damaged-log', { detail });
}
