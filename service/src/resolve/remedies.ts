import { setImmediate as nextTurn } from 'node:timers/promises';
import { type CountedRemedy, type Remedy, RemedyCounts, remediesFor } from '@jade-fence/core/destination';
import type { Prepared } from '@jade-fence/core/engine';
import type { Knex } from 'knex';
import { unpackTable } from '../log/packing.js';
import { chunkBytes } from '../log/store.js';
import { LogChunk, type RequestLog } from '../model/request-log.js';

/** What could be done about a host. */
export const remediesOf = (host: string, { resolutions, country }: Prepared): Remedy[] =>
  remediesFor(host, resolutions, country);

/** The same, each with how many requests of a log it would stop. Ends early where the caller has gone. */
export async function countedRemedies(
  knex: Knex,
  host: string,
  { resolutions, country }: Prepared,
  log: RequestLog,
  gone: AbortSignal,
): Promise<CountedRemedy[]> {
  const counts = new RemedyCounts(host, resolutions, country);
  const chunks = await LogChunk.query(knex).where({ logId: log.id }).select('number').orderBy('number');
  for (const { number } of chunks) {
    if (gone.aborted) break;
    counts.add(unpackTable(await chunkBytes(knex, log.id, number)));
    // Other calls have their turn between the chunks of a long log.
    await nextTurn();
  }
  return counts.remedies;
}
