import { refusal } from '../../fault/refusal.js';
import { tooLarge } from '../too-large.js';
import type { DamagedFile } from './damaged-file.js';
import { firstBytes, followed } from './first-bytes.js';
import { gunzipped } from './gzip.js';
import { isTar, untarred } from './tar.js';
import { unzstd } from './zstd.js';

/** The first bytes of packed files, and what packs them. */
const PACKERS = [
  { magic: [0x1f, 0x8b], name: 'gzip' },
  { magic: [0x28, 0xb5, 0x2f, 0xfd], name: 'zstd' },
  { magic: [0x42, 0x5a, 0x68], name: 'bzip2' },
  { magic: [0xfd, 0x37, 0x7a, 0x58, 0x5a], name: 'xz' },
  { magic: [0x50, 0x4b, 0x03, 0x04], name: 'zip' },
] as const;
/** As far as a tar says that it is one. */
const ENOUGH = 512;

/**
 * The bytes of a log, unpacked where they are packed with gzip or zstd, of any number of members; of an archive (tar,
 * packed or not) the bytes of all its files, one behind the other, each of which may be packed by itself. A file of an
 * archive that is damaged ends where the damage begins, and is handed to `damaged`; others are refused whole.
 */
export async function* unpacked(
  bytes: AsyncIterable<Buffer>,
  maxBytes: number,
  damaged: (file: DamagedFile) => void,
): AsyncGenerator<Buffer> {
  const plain = await unwrapped(bytes, maxBytes);
  const pieces = plain[Symbol.asyncIterator]();
  const start = await firstBytes(pieces, ENOUGH);
  const whole = followed(start, pieces);
  if (!isTar(start)) yield* whole;
  else yield* untarred(whole, (file) => unwrapped(file, maxBytes), damaged);
}

/** The bytes without their packing. */
async function unwrapped(bytes: AsyncIterable<Buffer>, maxBytes: number): Promise<AsyncIterable<Buffer>> {
  const pieces = bytes[Symbol.asyncIterator]();
  const start = await firstBytes(pieces, ENOUGH);
  const whole = followed(start, pieces);
  const packer = PACKERS.find(({ magic }) => magic.every((byte, at) => start[at] === byte))?.name;
  if (packer === undefined) return whole;
  if (packer === 'gzip') return gunzipped(limited(whole, maxBytes));
  if (packer === 'zstd') return unzstd(limited(whole, maxBytes));
  throw refusal('compressed-log', { packer });
}

async function* limited(pieces: AsyncIterable<Buffer>, maxBytes: number): AsyncGenerator<Buffer> {
  let size = 0;
  for await (const piece of pieces) {
    size += piece.length;
    if (size > maxBytes) throw tooLarge(maxBytes);
    yield piece;
  }
}
