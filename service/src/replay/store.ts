import type { Knex } from 'knex';
import { Problem } from '../http/problem.js';
import { Replay } from '../model/replay.js';

/** A running replay that has not shown itself for so long was left behind by a service that was killed. */
const STALE_SECONDS = 30;

export const INTERRUPTED = 'The service was stopped in the middle. Run it again.';

export async function findReplay(knex: Knex, id: number): Promise<Replay> {
  await failStale(knex);
  const replay = await Replay.query(knex).findById(id);
  if (replay) return replay;
  throw new Problem(404, 'unknown-replay', `There is no replay ${id}.`, {
    remedy: 'List the replays to see which there are.',
  });
}

/** The newest replays first. */
export async function allReplays(knex: Knex, limit: number): Promise<Replay[]> {
  await failStale(knex);
  return Replay.query(knex).orderBy('id', 'desc').limit(limit);
}

async function failStale(knex: Knex): Promise<void> {
  await Replay.query(knex)
    .where({ state: 'running' })
    .where('touchedAt', '<', knex.raw(`now() - interval '${STALE_SECONDS} seconds'`))
    .patch({
      state: 'failed',
      failure: INTERRUPTED,
      finishedAt: new Date(),
    });
}
