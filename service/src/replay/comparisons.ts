import type { ChangedBody, ChangesPage } from '@jade-fence/contract';
import { ChunkRows } from '@jade-fence/core/log';
import { type ChangeFilter, Comparison, type ComparisonReport, decided, filterChanges } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { Refusal, refusal } from '../fault/refusal.js';
import type { Replay } from '../model/replay.js';
import { chunksBehind, judgedRows, logTable, type PlacedChunk, placedChunks, verdictsOf } from './chunks.js';
import { judgedRequest, type Paging, requireDone } from './requests.js';

/** Two replays of one log. */
export interface Compared {
  readonly before: Replay;
  readonly after: Replay;
}

/** Both must be done, and be of the same log. */
export function requireComparable({ before, after }: Compared): void {
  requireDone(before);
  requireDone(after);
  const requests = ({ logIds, only }: Replay) => JSON.stringify([logIds, only]);
  if (requests(before) === requests(after)) return;
  if (String(before.logIds) === String(after.logIds)) throw differentRequests(before, after);
  throw refusal('different-logs', { before: before.id, after: after.id });
}

/** Compares two replays chunk by chunk. They must be of the same requests: see `requireComparable`. */
export async function compareReplays(knex: Knex, compared: Compared): Promise<ComparisonReport> {
  const comparison = new Comparison(compared.before.slots, compared.after.slots);
  for (const chunk of await sharedChunks(knex, compared)) comparison.chunk(await both(knex, compared, chunk));
  return comparison.report();
}

/** A page of the requests whose verdict changed, in the order of the log. */
export async function pageChanges(
  knex: Knex,
  compared: Compared,
  filter: ChangeFilter,
  { after, limit }: Paging,
): Promise<Omit<ChangesPage, 'of'>> {
  const slots = { before: compared.before.slots, after: compared.after.slots };
  const requests: ChangedBody[] = [];
  for (const chunk of chunksBehind(await sharedChunks(knex, compared), after)) {
    const verdicts = await both(knex, compared, chunk);
    const from = Math.max(0, after - chunk.before);
    const rows = filterChanges(verdicts, slots, filter, from, limit + 1 - requests.length);
    if (rows.length > 0) {
      const opened = {
        chunk,
        requests: new ChunkRows(judgedRows(await logTable(knex, chunk), verdicts.after)),
        verdicts: verdicts.after,
        slots: slots.after,
      };
      for (const row of rows)
        requests.push({
          ...judgedRequest(opened, row),
          before: decided(verdicts.before.outcome(row), slots.before),
        });
    }
    if (requests.length > limit) break;
  }
  const page = requests.slice(0, limit);
  return { requests: page, next: requests.length > limit ? (page.at(-1)?.number ?? null) : null };
}

/** The chunks of both replays, which must be of the same requests. */
async function sharedChunks(knex: Knex, { before, after }: Compared): Promise<PlacedChunk[]> {
  const [was, is] = await Promise.all([placedChunks(knex, before), placedChunks(knex, after)]);
  const sizes = (chunks: readonly PlacedChunk[]) => chunks.map(({ number, rows }) => `${number}:${rows}`).join();
  // A category may have had other hosts then, so that a replay of its requests was of others.
  if (sizes(was) !== sizes(is)) throw differentRequests(before, after);
  return is;
}

async function both(knex: Knex, { before, after }: Compared, chunk: PlacedChunk) {
  const [was, is] = await Promise.all([verdictsOf(knex, before, chunk), verdictsOf(knex, after, chunk)]);
  if (String(was.logRows) !== String(is.logRows)) throw differentRequests(before, after);
  return { before: was, after: is };
}

const differentRequests = (before: Replay, after: Replay): Refusal =>
  refusal('different-requests', { before: before.id, after: after.id });
