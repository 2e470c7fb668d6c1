import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

/** Writes what comes to a file, or to standard output for `-`. A file that was begun and not ended is removed. */
export async function save(from: Readable, to: string): Promise<void> {
  if (to === '-') {
    await pipeline(from, process.stdout, { end: false }).catch((error: NodeJS.ErrnoException) => {
      // Who reads has had enough, as `head` has.
      if (error.code === 'EPIPE') return;
      throw error.syscall === undefined ? failure(EXIT.service, 'cut-off', { to: 'Standard output' }) : error;
    });
    return;
  }
  try {
    await pipeline(from, createWriteStream(to));
  } catch (error) {
    const { code, message, syscall } = error as NodeJS.ErrnoException;
    if (syscall === undefined) {
      await rm(to, { force: true });
      throw failure(EXIT.service, 'cut-off', { to });
    }
    if (code !== 'ENOENT' && code !== 'EACCES' && code !== 'EISDIR') await rm(to, { force: true });
    throw failure(EXIT.notHeld, 'not-written', { to, message });
  }
}
