import { Decompress } from 'fzstd';
import { refusal } from '../../fault/refusal.js';
import { ZstdFrames } from './zstd-frames.js';

/** Unpacks zstd (RFC 8878), of any number of frames. Refuses with `damaged-log` what is cut off or damaged. */
export async function* unzstd(packed: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  const frames = new ZstdFrames();
  let out: Buffer[] = [];
  const begin = () => new Decompress((piece) => out.push(Buffer.from(piece)));
  let frame = begin();
  for await (const piece of packed)
    for (const { bytes, ends } of frames.push(piece)) {
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
