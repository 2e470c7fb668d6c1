import { type Purpose } from '@jade-fence/contract';
import type { Prepared } from '@jade-fence/core/engine';
import type { Policy } from '@jade-fence/core/policy';
import { type LogFilter, numberSlots, runScope } from '@jade-fence/core/replay';
import type { SourceFile } from '@jade-fence/core/workspace';
import { notFound } from '../fault/not-found.js';
import { type JobParts, JobRunner } from '../job/runner.js';
import { Replay } from '../model/replay.js';
import type { RequestLog } from '../model/request-log.js';
import type { Revision } from '../model/revision.js';
import type { WorkerPool } from '../worker/pool.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { currentState, revisionState } from '../workspace/state.js';
import { checkFiles, documentsOf } from '../workspace/store.js';
import { EffectSweeper, sameReplay } from './effects.js';
import { requireCatalogued } from './requests.js';
import { ReplayWork } from './work.js';

export interface ReplayOrder {
  /** One log or several, which are taken for one. */
  readonly logs: readonly RequestLog[];
  /** The one policy to judge every request by; undefined: each by the policy that covers it. */
  readonly policy: string | undefined;
  /** Which requests; undefined: all. */
  readonly only: LogFilter | undefined;
  /** The published state to judge by; undefined: the draft. */
  readonly revision: Revision | undefined;
  /** Files to judge by in place of the workspace's own documents of the same names. They are not stored there. */
  readonly files: readonly SourceFile[];
  /** The instant at which the expiry of list entries is judged. */
  readonly at: Date;
  readonly purpose: Purpose;
  readonly by: string;
}

export interface RunnerParts extends JobParts {
  readonly states: PreparedStates;
  readonly pool: WorkerPool;
}

/** Orders replays, runs those that the queue gives this service, and cancels them. */
export class ReplayRunner {
  readonly #parts: RunnerParts;
  readonly #jobs: JobRunner<Replay>;
  readonly #sweeper: EffectSweeper;

  constructor(parts: RunnerParts) {
    this.#parts = parts;
    this.#jobs = new JobRunner<Replay>(parts, new ReplayWork(parts));
    this.#sweeper = new EffectSweeper(parts.knex, parts.logger);
  }

  async open(): Promise<void> {
    await this.#jobs.open();
    this.#sweeper.open();
  }

  async stop(): Promise<void> {
    await this.#sweeper.close();
    await this.#jobs.stop();
  }

  /** Asks a replay to stop, whichever service runs it, and waits until it has. */
  cancel(id: number): Promise<void> {
    return this.#jobs.cancel(id);
  }

  /**
   * Stores the replay and puts it into the queue; answers at once. An effect that a replay of late shows already is not run
   * again: that replay is the answer.
   */
  async order({ logs, revision, policy, only, files, at, purpose, by }: ReplayOrder): Promise<Replay> {
    const { knex, states } = this.#parts;
    const base = await (revision === undefined ? currentState(knex, at) : revisionState(knex, revision, at));
    const documents =
      files.length > 0
        ? await checkFiles(knex, states.readings, await documentsOf(knex, base.versionIds), files)
        : null;
    if (purpose === 'effect') {
      const known = await sameReplay(knex, logs, only ?? null, base);
      if (known) return known;
      void this.#sweeper.sweep();
    }
    const state = { ...base, instead: documents ?? undefined };
    const prepared = await states.get(state);
    const named = policy === undefined ? undefined : policyOf(prepared, policy);
    if (only) requireCatalogued(prepared, only);
    const { policies } = runScope(prepared, named);
    const { slots } = numberSlots(policies);
    const replay = await Replay.query(knex)
      .insert({
        logId: (logs[0] as RequestLog).id,
        logIds: logs.map(({ id }) => id),
        policy: policy ?? null,
        revision: revision?.number ?? null,
        only: only ?? null,
        documents,
        state: 'waiting',
        total: logs.reduce((sum, { requests }) => sum + requests, 0),
        versionIds: [...state.versionIds],
        countryDataId: state.countryDataId ?? null,
        resolutionsId: state.resolutionsId ?? null,
        judgedAt: at,
        purpose,
        orderedBy: by,
        slots: [...slots],
        redactions: Object.fromEntries(policies.map(({ name, redact }) => [name, redact])),
      })
      .returning('*');
    await this.#jobs.enqueue(replay.id);
    return replay;
  }
}

function policyOf(prepared: Prepared, name: string): Policy {
  const { policies } = prepared.workspace;
  const found = policies.get(name);
  if (found) return found;
  throw notFound('policy', name, [...policies.keys()], 'Apply a workspace with that policy first.');
}
