import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { sweep } from '../database/sweep.js';
import { Replay } from '../model/replay.js';
import type { RequestLog } from '../model/request-log.js';
import type { WorkspaceState } from '../workspace/state.js';

/** An effect is the answer again for so long, and kept for longer, so that whoever got it can look at it. */
const SAME_MS = 3_600_000;
const KEPT_MS = 2 * SAME_MS;
/** Of one log there are no more at a time; somebody who edits makes one at each edit. */
const MOST_OF_A_LOG = 12;
const SWEEP_EVERY_MS = 5 * 60_000;

/** A replay of the last hour over the same requests of the same logs by the same state, which need not be run again. */
export async function sameReplay(
  knex: Knex,
  logs: readonly RequestLog[],
  only: Replay['only'],
  { versionIds, countryDataId, resolutionsId, at }: WorkspaceState,
): Promise<Replay | undefined> {
  return Replay.query(knex)
    .whereIn('state', ['waiting', 'running', 'done'])
    .whereNull('policy')
    .whereRaw('"only"::jsonb is not distinct from ?::jsonb', [only === null ? null : JSON.stringify(only)])
    .whereNull('documents')
    .whereRaw('log_ids = ?::jsonb and version_ids = ?::jsonb', [
      JSON.stringify(logs.map(({ id }) => id)),
      JSON.stringify(versionIds),
    ])
    .whereRaw('country_data_id is not distinct from ?', [countryDataId ?? null])
    .whereRaw('resolutions_id is not distinct from ?', [resolutionsId ?? null])
    .whereBetween('judgedAt', [new Date(at.getTime() - SAME_MS), at])
    .orderBy('id', 'desc')
    .first();
}

/** Removes the effects that ended two hours ago, and the oldest where a log has many. */
export async function deleteOldEffects(knex: Knex, now: Date): Promise<number> {
  const numbered = Replay.query(knex)
    .select('id', 'finishedAt')
    .select(knex.raw('row_number() over (partition by log_ids order by id desc) as place'))
    .where({ purpose: 'effect' })
    .whereNotIn('state', ['waiting', 'running']);
  const old = await knex
    .from(numbered.as('effects').toKnexQuery())
    .select<{ id: number }[]>('id')
    .where('finished_at', '<', new Date(now.getTime() - KEPT_MS))
    .orWhere('place', '>', MOST_OF_A_LOG);
  if (old.length === 0) return 0;
  const deleted = await Replay.query(knex)
    .whereIn(
      'id',
      old.map(({ id }) => id),
    )
    .delete();
  await sweep(knex);
  return deleted;
}

/** Removes old effects now and then, for as long as the service runs. */
export class EffectSweeper {
  readonly #knex: Knex;
  readonly #logger: Logger;
  #timer: NodeJS.Timeout | undefined;
  #sweeping: Promise<void> | undefined;

  constructor(knex: Knex, logger: Logger) {
    this.#knex = knex;
    this.#logger = logger;
  }

  open(): void {
    this.#timer = setInterval(() => void this.sweep(), SWEEP_EVERY_MS);
    this.#timer.unref();
    void this.sweep();
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    await this.#sweeping;
  }

  /** Never fails: what could not be removed is old the next time, too. */
  sweep(): Promise<void> {
    this.#sweeping ??= deleteOldEffects(this.#knex, new Date())
      .then(
        () => undefined,
        (error) => this.#logger.warn({ err: error }, 'old effects could not be removed'),
      )
      .finally(() => {
        this.#sweeping = undefined;
      });
    return this.#sweeping;
  }
}
