import type { OfReplay, ReplayBody } from '@jade-fence/contract';
import { scopeNotes } from '@jade-fence/report';
import type { Knex } from 'knex';
import type { Replay } from '../../model/replay.js';
import { RequestLog } from '../../model/request-log.js';
import { ANY_INSTANT, currentState, type WorkspaceState } from '../../workspace/state.js';
import { pace } from '../pace.js';

/** Replays as they are sent, with the names of their logs, and whether the draft that they ran is another now. */
export async function replayBodies(knex: Knex, replays: readonly Replay[]): Promise<ReplayBody[]> {
  const ids = [...new Set(replays.flatMap(({ logIds }) => logIds))];
  const logs = await RequestLog.query(knex).whereIn('id', ids).select('id', 'name');
  const names = new Map(logs.map((log) => [log.id, log.name]));
  const draft = await currentState(knex, ANY_INSTANT);
  return replays.map((replay) => replayBody(replay, names, draft));
}

/** A replay as answers have it. */
export async function replayBodyOf(knex: Knex, replay: Replay): Promise<ReplayBody> {
  const [body] = await replayBodies(knex, [replay]);
  return body as ReplayBody;
}

/** Which replay an answer is of, of which logs and by which state of the workspace. */
export async function ofReplay(knex: Knex, replay: Replay): Promise<OfReplay> {
  const { id, logs, policy, revision, resolutions, only, instead, outOfDate } = await replayBodyOf(knex, replay);
  return { id, logs, policy, revision, resolutions, only, instead, outOfDate };
}

function replayBody(replay: Replay, names: ReadonlyMap<number, string>, draft: WorkspaceState): ReplayBody {
  const { id, logId, logIds, policy, revision, only, documents, state, done, total, failure } = replay;
  const instead = (documents ?? []).map(({ kind, name }) => ({ kind, name }));
  return {
    id,
    log: names.get(logId) ?? null,
    logs: logIds.flatMap((each) => names.get(each) ?? []),
    policy,
    revision,
    resolutions: replay.resolutionsId,
    only,
    instead,
    notes: scopeNotes({ revision, policy, only, instead }),
    purpose: replay.purpose,
    orderedBy: replay.orderedBy,
    outOfDate: revision === null && !ranState(replay, draft),
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

const ranState = ({ versionIds, countryDataId }: Replay, state: WorkspaceState): boolean =>
  versionIds.join() === state.versionIds.join() && (countryDataId ?? undefined) === state.countryDataId;
