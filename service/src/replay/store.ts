import { type JobState } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { sweep } from '../database/sweep.js';
import { refusal } from '../fault/refusal.js';
import { findLog } from '../log/store.js';
import { Replay } from '../model/replay.js';
import type { WorkspaceState } from '../workspace/state.js';

/** The replay with the number, effects too. Refuses with `unknown-replay`. */
export async function findReplay(knex: Knex, id: number): Promise<Replay> {
  const replay = await Replay.query(knex).findById(id);
  if (replay) return replay;
  throw refusal('unknown-replay', { id });
}

/** Which replays a list is of; undefined: whichever. */
export interface ReplaysAsked {
  /** That a log with this name is among the logs of. */
  readonly log?: string | undefined;
  readonly by?: string | undefined;
  readonly state?: JobState | undefined;
}

/** The newest replays first, but for effects. */
export async function pageOfReplays(
  knex: Knex,
  { log, by, state }: ReplaysAsked,
  page: PageAsked<number>,
): Promise<Page<Replay, number>> {
  const replays = Replay.query(knex).where({ purpose: 'asked' });
  if (by !== undefined) replays.where({ orderedBy: by });
  if (state !== undefined) replays.where({ state });
  if (log !== undefined) replays.whereRaw('log_ids @> ?::jsonb', [JSON.stringify([(await findLog(knex, log)).id])]);
  return pageOf(replays, 'id', 'desc', page);
}

/** Deletes a replay with its verdicts and its report; one that still runs is to be cancelled first. */
export async function deleteReplay(knex: Knex, { id, logIds }: Replay, by: string): Promise<void> {
  await knex.transaction(async (trx) => {
    const deleted = await Replay.query(trx).where({ id }).whereNotIn('state', ['waiting', 'running']).delete();
    if (deleted === 0) {
      // Somebody else may have deleted it meanwhile.
      await findReplay(trx, id);
      throw refusal('replay-running', { id });
    }
    await note(trx, [{ actor: by, action: 'replay-deleted', kind: 'replay', name: String(id), detail: { logIds } }]);
  });
  await sweep(knex);
}

/** The state of the workspace that a replay runs. */
export function stateOf({ versionIds, countryDataId, resolutionsId, judgedAt, documents }: Replay): WorkspaceState {
  return {
    versionIds,
    countryDataId: countryDataId ?? undefined,
    resolutionsId: resolutionsId ?? undefined,
    at: judgedAt,
    instead: documents ?? undefined,
  };
}
