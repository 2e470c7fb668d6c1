import { scopeNotes } from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Replay } from '../../model/replay.js';
import { RequestLog } from '../../model/request-log.js';
import type { ReplayBody } from '../bodies.js';
import { pace } from '../pace.js';

/** The names of the logs of replays, by their numbers. */
export async function logNames(knex: Knex, replays: readonly Replay[]): Promise<Map<number, string>> {
  const ids = [...new Set(replays.flatMap(({ logIds }) => logIds))];
  const logs = await RequestLog.query(knex).whereIn('id', ids).select('id', 'name');
  return new Map(logs.map((log) => [log.id, log.name]));
}

export function replayBody(replay: Replay, names: ReadonlyMap<number, string>): ReplayBody {
  const { id, logId, logIds, policy, revision, only, documents, state, done, total, failure } = replay;
  const instead = (documents ?? []).map(({ kind, name }) => ({ kind, name }));
  return {
    id,
    log: names.get(logId) ?? null,
    logs: logIds.flatMap((each) => names.get(each) ?? []),
    policy,
    revision,
    only,
    instead,
    notes: scopeNotes({ revision, policy, only, instead }),
    state,
    done,
    total,
    ...pace(replay, total),
    failure,
    judgedAt: replay.judgedAt.toISOString(),
    startedAt: replay.startedAt.toISOString(),
    finishedAt: replay.finishedAt?.toISOString() ?? null,
  };
}
