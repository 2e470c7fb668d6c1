import { Readable } from 'node:stream';
import { extract } from 'tar-stream';
import { Refusal, refusal } from '../../fault/refusal.js';
import type { DamagedFile } from './damaged-file.js';

/** More files than this are no logs of one kind. */
const MOST_FILES = 10_000;
const NEWLINE = Buffer.from('\n');

/** Whether the first block is the header of a tar (POSIX.1-1988 or later; older ones do not say that they are). */
export const isTar = (start: Buffer): boolean => start.length >= 512 && start.toString('latin1', 257, 262) === 'ustar';

/**
 * The bytes of all files of an archive, one behind the other, each ended by a line feed. `unwrap` undoes the packing of
 * a file. Of a file that is damaged comes what is in front of the damage. Refuses an archive that is cut off.
 */
export async function* untarred(
  archive: AsyncIterable<Buffer>,
  unwrap: (file: AsyncIterable<Buffer>) => Promise<AsyncIterable<Buffer>>,
  damaged: (file: DamagedFile) => void,
): AsyncGenerator<Buffer> {
  const entries = extract();
  const source = Readable.from(archive);
  source.on('error', (error) => entries.destroy(error));
  source.pipe(entries);
  try {
    yield* filesOf(entries, unwrap, damaged);
  } catch (error) {
    if (error instanceof Refusal || !isOfTar(error)) throw error;
    throw refusal('damaged-log', { detail: `The archive is damaged or cut off (${(error as Error).message})` });
  } finally {
    source.destroy();
  }
}

/** The part of a refusal that is about a log by itself. */
const WHOLE = /; nothing was imported\.$/;

/** What the reader of archives says of those that it cannot read. */
const isOfTar = (error: unknown): boolean =>
  error instanceof Error && /tar|Unexpected end of data|Premature close|Writable stream closed/i.test(error.message);

async function* filesOf(
  entries: ReturnType<typeof extract>,
  unwrap: (file: AsyncIterable<Buffer>) => Promise<AsyncIterable<Buffer>>,
  damaged: (file: DamagedFile) => void,
): AsyncGenerator<Buffer> {
  let files = 0;
  for await (const entry of entries) {
    const { name, type } = entry.header;
    if (type !== 'file' && type !== 'contiguous-file') {
      entry.resume();
      continue;
    }
    if (++files > MOST_FILES) throw refusal('damaged-log', { detail: `The archive has more than ${MOST_FILES} files` });
    let last: Buffer | undefined;
    try {
      for await (const piece of await unwrap(piecesOf(entry))) {
        if (piece.length === 0) continue;
        last = piece;
        yield piece;
      }
    } catch (error) {
      if (!(error instanceof Refusal) || !['damaged-log', 'compressed-log'].includes(error.code)) throw error;
      damaged({ file: name, reason: error.detail.replace(WHOLE, '') });
      entry.resume();
    }
    if (last && last.at(-1) !== NEWLINE[0]) yield NEWLINE;
  }
}

/** The bytes of a file, which is read to its end where its reader stops before. */
async function* piecesOf(entry: AsyncIterable<unknown> & { resume(): unknown }): AsyncGenerator<Buffer> {
  const pieces = entry[Symbol.asyncIterator]();
  let ended = false;
  try {
    for (let next = await pieces.next(); !next.done; next = await pieces.next()) yield next.value as Buffer;
    ended = true;
  } finally {
    // Leaving an iterator would destroy the file, and the archive with it.
    while (!ended) ended = (await pieces.next()).done === true;
  }
}
