import type { Knex } from 'knex';
import { Problem } from '../http/problem.js';
import { Replay } from '../model/replay.js';
import type { WorkspaceState } from '../workspace/state.js';

export async function findReplay(knex: Knex, id: number): Promise<Replay> {
  const replay = await Replay.query(knex).findById(id);
  if (replay) return replay;
  throw new Problem(404, 'unknown-replay', `There is no replay ${id}.`, {
    remedy: 'List the replays to see which there are.',
  });
}

/** The newest replays first. */
export async function allReplays(knex: Knex, limit: number): Promise<Replay[]> {
  return Replay.query(knex).orderBy('id', 'desc').limit(limit);
}

/** The state of the workspace that a replay runs. */
export function stateOf({ versionIds, countryDataId, judgedAt, documents }: Replay): WorkspaceState {
  return { versionIds, countryDataId: countryDataId ?? undefined, at: judgedAt, instead: documents ?? undefined };
}
