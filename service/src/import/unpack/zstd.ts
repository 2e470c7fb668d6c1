import { Decompress } from 'fzstd';
import { refusal } from '../../fault/refusal.js';
import { ZstdFrames } from './zstd-frames.js';

/** Bytes are unpacked in pieces of at most this many, so that what comes out of one stays small. */
const PIECE = 64 * 1024;

/** Unpacks zstd (RFC 8878), of any number of frames. Refuses with `damaged-log` what is cut off or damaged. */
export async function* unzstd(packed: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  const frames = new ZstdFrames();
  let out: Buffer[] = [];
  const begin = () => new Decompress((piece) => out.push(Buffer.from(piece)));
  let frame = begin();
  for await (const piece of packed)
    for (let at = 0; at < piece.length; at += PIECE)
      for (const { bytes, ends } of frames.push(piece.subarray(at, at + PIECE))) {
        push(frame, bytes, ends);
        if (ends) frame = begin();
        yield* out;
        out = [];
      }
  if (!frames.isWhole) throw refusal('damaged-log', { detail: 'The packed log is cut off' });
}

function push(frame: Decompress, bytes: Buffer, ends: boolean): void {
  try {
    frame.push(bytes, ends);
  } catch (error) {
    throw refusal('damaged-log', { detail: `The packed log is damaged (${(error as Error).message})` });
  }
}
