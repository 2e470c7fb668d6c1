import { readFileSync } from 'node:fs';
import { unreadable } from './workspace-files.js';

/** The bytes of a file. Fails with why it cannot be read. */
export function readFile(file: string): Uint8Array<ArrayBuffer> {
  try {
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    throw unreadable(file, error as NodeJS.ErrnoException);
  }
}
