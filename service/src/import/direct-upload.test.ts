import { describe, expect, it } from 'vitest';
import { DirectUpload } from './direct-upload.js';

const NEVER = new AbortController().signal;

async function read(pieces: AsyncIterable<Buffer>): Promise<string> {
  let text = '';
  for await (const piece of pieces) text += piece;
  return text;
}

async function* sent(...texts: readonly string[]): AsyncGenerator<Buffer> {
  for (const text of texts) yield Buffer.from(text);
}

/** Sends something, and then nothing more, and does not end. */
async function* stalled(): AsyncGenerator<Buffer> {
  yield Buffer.from('a');
  await new Promise(() => undefined);
}

describe('what is read as it comes', () => {
  it('is what is sent', async () => {
    const upload = new DirectUpload(1, { bytes: sent('ab', '', 'c'), maxBytes: 3 });
    expect(await read(upload.follower(NEVER))).toBe('abc');
  });

  it('is no more than may come', async () => {
    const upload = new DirectUpload(1, { bytes: sent('ab', 'cd'), maxBytes: 3 });
    await expect(read(upload.follower(NEVER))).rejects.toMatchObject({ reason: 'too-large', code: 'upload-too-large' });
  });

  it('ends with why it is stopped, also while nothing comes', async () => {
    const upload = new DirectUpload(1, { bytes: stalled(), maxBytes: 3 });
    const reading = read(upload.follower(NEVER));
    upload.stop(Object.assign(new Error(), { code: 'ECONNRESET' }));
    await expect(reading).rejects.toMatchObject({ reason: 'malformed', code: 'aborted' });
    expect(() => upload.throwIfStopped()).toThrow();
  });

  it('is to be sent again where its reader stops', async () => {
    const service = new AbortController();
    const reading = read(new DirectUpload(1, { bytes: stalled(), maxBytes: 3 }).follower(service.signal));
    setImmediate(() => service.abort());
    await expect(reading).rejects.toMatchObject({ reason: 'away', code: 'database-away' });
  });
});
