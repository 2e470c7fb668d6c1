import {
  CHUNK_ROWS,
  type ChangeFilter,
  ChunkRows,
  Comparison,
  type ComparisonReport,
  decided,
  filterChanges,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { ChangedBody, ChangesPage } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { chunkTable } from '../log/store.js';
import type { Replay } from '../model/replay.js';
import { judgedRequest, type Paging, requireDone, verdictsOf } from './requests.js';

/** Two replays of one log. */
export interface Compared {
  readonly before: Replay;
  readonly after: Replay;
}

/** Both must be done, and be of the same log. */
export function requireComparable({ before, after }: Compared): void {
  requireDone(before);
  requireDone(after);
  if (before.logId === after.logId) return;
  throw new Problem(
    409,
    'different-logs',
    `Replay ${before.id} and replay ${after.id} are of different logs, so that their requests cannot be compared.`,
    { remedy: 'Replay the same log again.' },
  );
}

export async function compareReplays(knex: Knex, compared: Compared): Promise<ComparisonReport> {
  const comparison = new Comparison(compared.before.slots, compared.after.slots);
  for (let number = 0; number < chunksOf(compared); number++) comparison.chunk(await chunkOf(knex, compared, number));
  return comparison.report();
}

/** A page of the requests whose verdict changed, in the order of the log. */
export async function pageChanges(
  knex: Knex,
  compared: Compared,
  filter: ChangeFilter,
  { after, limit }: Paging,
): Promise<ChangesPage> {
  const slots = { before: compared.before.slots, after: compared.after.slots };
  const requests: ChangedBody[] = [];
  for (let number = Math.floor(after / CHUNK_ROWS); number < chunksOf(compared); number++) {
    const chunk = await chunkOf(knex, compared, number);
    const from = Math.max(0, after - number * CHUNK_ROWS);
    const rows = filterChanges(chunk, slots, filter, from, limit + 1 - requests.length);
    const table = rows.length > 0 ? await chunkTable(knex, compared.after.logId, number) : undefined;
    if (table) {
      const shown = new ChunkRows(table);
      for (const row of rows)
        requests.push({
          ...judgedRequest(shown, chunk.after, slots.after, number, row),
          before: decided(chunk.before.outcome(row), slots.before),
        });
    }
    if (requests.length > limit) break;
  }
  const page = requests.slice(0, limit);
  return { requests: page, next: requests.length > limit ? (page.at(-1)?.number ?? null) : null };
}

const chunksOf = ({ after }: Compared): number => Math.ceil(after.total / CHUNK_ROWS);

async function chunkOf(knex: Knex, { before, after }: Compared, number: number) {
  const [was, is] = await Promise.all([verdictsOf(knex, before, number), verdictsOf(knex, after, number)]);
  return { before: was, after: is };
}
