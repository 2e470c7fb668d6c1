import { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { type Refusal, refusal } from '../../fault/refusal.js';

/** Unpacks gzip (RFC 1952). Refuses with `damaged-log` what is cut off or damaged. */
export async function* gunzipped(packed: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
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
