import { expect, it } from 'vitest';
import { KeptUpload } from './kept-upload.js';
import { type KeptPiece, type PieceStore, unpackPiece } from './pieces.js';

const PIECE = 256 * 1024;
const NEVER = new AbortController().signal;
const NOTHING = { unpacked: 0, packed: 0 };
const shown = async () => undefined;

/** Keeps pieces in memory, and counts what has to be fetched. */
class Memory implements PieceStore {
  readonly pieces = new Map<number, KeptPiece>();
  fetched = 0;

  async keep(number: number, piece: KeptPiece): Promise<void> {
    this.pieces.set(number, piece);
  }

  fetch(number: number): Promise<Buffer> {
    this.fetched++;
    return unpackPiece(this.pieces.get(number) as KeptPiece);
  }
}

const LOG = Buffer.alloc(5 * PIECE + 7, 'GET /beds/fern 200\n');

async function* sent(): AsyncGenerator<Buffer> {
  for (let at = 0; at < LOG.length; at += 60_000) yield LOG.subarray(at, at + 60_000);
}

async function read(pieces: AsyncIterable<Buffer>): Promise<Buffer> {
  const all: Buffer[] = [];
  for await (const piece of pieces) all.push(piece);
  return Buffer.concat(all);
}

it.each([
  ['as it came', undefined, 0],
  ['packed', { unpacked: 0, packed: 10 * PIECE }, 0],
  ['fetched, where memory holds none of it', NOTHING, 5],
])('is read whole while it comes: %s', async (_, room, fetched) => {
  const store = new Memory();
  const upload = new KeptUpload(1, { bytes: sent(), maxBytes: LOG.length }, store, room);
  upload.follow();
  const reading = read(upload.follower(NEVER));
  await upload.keep(shown);
  upload.end();
  expect((await reading).equals(LOG)).toBe(true);
  expect([upload.received, upload.pieces, store.pieces.size, store.fetched]).toEqual([LOG.length, 5, 5, fetched]);
});

it('is no more than may come, and fails for its reader too', async () => {
  const upload = new KeptUpload(1, { bytes: sent(), maxBytes: LOG.length - 1 }, new Memory());
  const reading = read(upload.follower(NEVER));
  const failed = expect(reading).rejects.toThrow('larger than');
  await upload.keep(shown).catch((error) => upload.stop(error));
  await failed;
});

it('fails where a piece cannot be kept', async () => {
  const store = new Memory();
  store.keep = () => Promise.reject(new Error('no room'));
  await expect(new KeptUpload(1, { bytes: sent(), maxBytes: LOG.length }, store).keep(shown)).rejects.toThrow(
    'no room',
  );
});
