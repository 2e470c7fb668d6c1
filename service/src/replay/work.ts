import { logMayHold } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { isDatabaseFull } from '../database/faults.js';
import { BegunTooOften, type JobRun, type JobWork } from '../job/runner.js';
import { chunkBytes } from '../log/store.js';
import { Replay, ReplayChunk } from '../model/replay.js';
import { LogChunk } from '../model/request-log.js';
import type { WorkerPool } from '../worker/pool.js';
import { stateKey, wholeParts } from '../workspace/state.js';
import { mayHoldTimes } from './chunks.js';
import { replayChunks, type SourceChunk } from './pipeline.js';
import { stateOf } from './store.js';

interface ReplayWorkParts {
  readonly knex: Knex;
  readonly pool: WorkerPool;
}

/** How a replay is run. */
export class ReplayWork implements JobWork<Replay> {
  readonly kind = 'replay';
  readonly model = Replay;
  readonly #parts: ReplayWorkParts;

  constructor(parts: ReplayWorkParts) {
    this.#parts = parts;
  }

  async run(replay: Replay, { signal, progress, done }: JobRun<Replay>): Promise<void> {
    const report = await this.#judgeAll(replay, signal, progress);
    signal.throwIfAborted();
    await done({ done: replay.total, report });
  }

  /** What was judged of one that is not done is of no use. */
  async reset(knex: Knex, replayId: number): Promise<void> {
    await ReplayChunk.query(knex).where({ replayId }).delete();
  }

  discard(knex: Knex, id: number): Promise<void> {
    return this.reset(knex, id);
  }

  failure(error: unknown): Partial<Replay> {
    if (error instanceof BegunTooOften) return { failure: error.message };
    return {
      failure: isDatabaseFull(error)
        ? 'The database has no room for it. Make room on its disk, and run it again.'
        : 'The replay failed; the log of the service says why.',
    };
  }

  async #judgeAll(replay: Replay, signal: AbortSignal, progress: JobRun<Replay>['progress']): Promise<string> {
    const { knex, pool } = this.#parts;
    const state = stateOf(replay);
    const [whole, chunks] = await Promise.all([wholeParts(knex, state), sourceChunks(knex, replay)]);
    const scope = { key: stateKey(state), state: whole, policy: replay.policy ?? undefined };
    let done = 0;
    return replayChunks(pool, {
      run: `${replay.id}/${replay.attempt}`,
      scope,
      only: replay.only ?? undefined,
      chunks,
      signal,
      read: ({ logId, number }) => chunkBytes(knex, logId, number),
      keep: async (number, chunk, { rows, packed, summary, clients }) => {
        const place = { replayId: replay.id, number, logId: chunk.logId, logChunk: chunk.number };
        // A replay that was taken up while it still ran elsewhere writes the same there.
        await ReplayChunk.query(knex)
          .insert({
            ...place,
            rows,
            summary,
            four: Buffer.from(clients.four),
            six: Buffer.from(clients.six),
            data: Buffer.from(packed),
          })
          .onConflict(['replayId', 'number'])
          .merge();
        done += chunk.rows;
        await progress(done);
      },
    });
  }
}

/** The chunks of the replay's logs that may have requests for it, in order. */
async function sourceChunks(knex: Knex, { logIds, only }: Replay): Promise<SourceChunk[]> {
  const chunks = await LogChunk.query(knex)
    .whereIn('logId', logIds)
    .select('logId', 'number', 'rows', 'firstTime', 'lastTime', 'timesKept', 'summary')
    .orderBy('number');
  const mayHold = (chunk: LogChunk) =>
    only === null || (mayHoldTimes(chunk, only) && (!chunk.summary || logMayHold(chunk.summary, only)));
  return logIds
    .flatMap((id) => chunks.filter(({ logId }) => logId === id))
    .filter(mayHold)
    .map(({ logId, number, rows, firstTime, timesKept }) => {
      const first = timesKept ? (firstTime ?? Number.POSITIVE_INFINITY) : Number.NEGATIVE_INFINITY;
      return { logId, number, rows, firstTime: first };
    });
}
