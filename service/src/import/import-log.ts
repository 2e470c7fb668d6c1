import type { Knex } from 'knex';
import type { RequestLog } from '../model/request-log.js';
import type { WorkerPool } from '../worker/pool.js';
import { ContentHash } from './content-hash.js';
import type { ImportOptions } from './import-options.js';
import { LogWriter } from './log-writer.js';
import { readLog } from './reading.js';
import { tooLarge } from './too-large.js';
import { unpacked } from './unpack/unpack.js';

const ALIVE_MS = 15_000;

/** Imports a log from its bytes, in a transaction: where anything fails, nothing of it stays. */
export async function importLog(
  trx: Knex.Transaction,
  pool: WorkerPool,
  bytes: AsyncIterable<Buffer>,
  options: ImportOptions,
): Promise<RequestLog> {
  const writer = await LogWriter.begin(trx, options);
  const hash = new ContentHash();
  let size = 0;
  async function* counted(): AsyncGenerator<Buffer> {
    // Hashed as it is when unpacked, so that a file and its packed copy are known to be the same.
    for await (const piece of unpacked(bytes, options.maxBytes, (file) => writer.damaged(file))) {
      size += piece.length;
      if (size > options.maxBytes) throw tooLarge(options.maxBytes);
      hash.update(piece);
      yield piece;
    }
  }
  // A log may come slowly, and the database ends transactions that do nothing for long.
  const alive = setInterval(() => void trx.raw('select 1').catch(() => undefined), ALIVE_MS);
  try {
    const facts = await readLog(pool, counted(), options, (part) => writer.take(part));
    return await writer.finish(facts, { bytes: size, contentHash: hash.digest() });
  } finally {
    clearInterval(alive);
  }
}
