import { setImmediate as breathe } from 'node:timers/promises';
import { type ColumnTable, type Policy, type Prepared, Run } from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { notFound } from '../http/suggestion.js';
import { packTable } from '../log/packing.js';
import { chunkTable } from '../log/store.js';
import { Replay, ReplayChunk } from '../model/replay.js';
import type { RequestLog } from '../model/request-log.js';
import { currentState, type PreparedStates } from '../workspace/prepared.js';
import { INTERRUPTED } from './store.js';

const TELL_EVERY_MS = 500;
/** Why a replay was aborted that nobody cancelled. */
const STOPPED = 'stopped';

export interface ReplayOrder {
  readonly log: RequestLog;
  /** The one policy to judge every request by; undefined: each by the policy that covers it. */
  readonly policy: string | undefined;
  /** The instant at which the expiry of list entries is judged. */
  readonly at: Date;
}

/** Starts replays, runs them beside the service's other work, and cancels them. */
export class ReplayRunner {
  readonly #knex: Knex;
  readonly #states: PreparedStates;
  readonly #logger: Logger;
  readonly #running = new Map<number, { readonly abort: AbortController; readonly ended: Promise<void> }>();

  constructor(knex: Knex, states: PreparedStates, logger: Logger) {
    this.#knex = knex;
    this.#states = states;
    this.#logger = logger;
  }

  /** Stores the replay and lets it run; answers at once. */
  async start({ log, policy, at }: ReplayOrder): Promise<Replay> {
    const state = await currentState(this.#knex, at);
    const prepared = await this.#states.get(state);
    const named = policy === undefined ? undefined : policyOf(prepared, policy);
    const run = new Run(prepared, named);
    const replay = await Replay.query(this.#knex)
      .insert({
        logId: log.id,
        policy: policy ?? null,
        state: 'running',
        total: log.requests,
        versionIds: [...state.versionIds],
        countryDataId: state.countryDataId ?? null,
        judgedAt: at,
        slots: [...run.slots],
      })
      .returning('*');
    const abort = new AbortController();
    this.#running.set(replay.id, { abort, ended: this.#run(replay, run, abort.signal) });
    return replay;
  }

  /** Asks a replay to stop, and waits until it has. */
  async cancel(id: number): Promise<void> {
    const running = this.#running.get(id);
    running?.abort.abort();
    await running?.ended;
  }

  /** Ends all that runs, since the service stops. */
  async stop(): Promise<void> {
    const running = [...this.#running.values()];
    for (const { abort } of running) abort.abort(STOPPED);
    await Promise.all(running.map(({ ended }) => ended));
  }

  async #run(replay: Replay, run: Run, signal: AbortSignal): Promise<void> {
    try {
      await this.#judgeAll(replay, run, signal);
      if (signal.aborted) await this.#endEarly(replay, endedEarly(signal));
      else await this.#end(replay, { state: 'done', done: replay.total, report: JSON.stringify(run.report()) });
    } catch (error) {
      this.#logger.error({ err: error, replay: replay.id }, 'replay failed');
      const failure = 'The replay failed; the log of the service says why.';
      await this.#endEarly(replay, { state: 'failed', failure }).catch(() => undefined);
    } finally {
      this.#running.delete(replay.id);
    }
  }

  async #judgeAll(replay: Replay, run: Run, signal: AbortSignal): Promise<void> {
    let done = 0;
    let told = Date.now();
    for (let number = 0; done < replay.total && !signal.aborted; number++) {
      const table = await chunkTable(this.#knex, replay.logId, number);
      if (!table) throw new Error(`chunk ${number} of log ${replay.logId} is missing`);
      const verdicts = run.chunk(table);
      if (verdicts) await this.#keep(replay, number, verdicts);
      done += table.rows;
      // Other work gets its turn, so that the service answers while it replays.
      await breathe();
      if (Date.now() - told < TELL_EVERY_MS) continue;
      told = Date.now();
      await Replay.query(this.#knex).findById(replay.id).patch({ done, touchedAt: new Date() });
    }
    for (const [number, verdicts] of signal.aborted ? [] : run.settle()) await this.#keep(replay, number, verdicts);
  }

  async #keep(replay: Replay, number: number, verdicts: ColumnTable): Promise<void> {
    await ReplayChunk.query(this.#knex).insert({ replayId: replay.id, number, data: await packTable(verdicts) });
  }

  /** What was judged of an unfinished replay is of no use, and takes room. */
  async #endEarly(replay: Replay, patch: Partial<Replay>): Promise<void> {
    await ReplayChunk.query(this.#knex).where({ replayId: replay.id }).delete();
    await this.#end(replay, patch);
  }

  async #end(replay: Replay, patch: Partial<Replay>): Promise<void> {
    await Replay.query(this.#knex)
      .findById(replay.id)
      .patch({ ...patch, finishedAt: new Date() });
  }
}

function endedEarly(signal: AbortSignal): Partial<Replay> {
  return signal.reason === STOPPED ? { state: 'failed', failure: INTERRUPTED } : { state: 'cancelled' };
}

function policyOf(prepared: Prepared, name: string): Policy {
  const { policies } = prepared.workspace;
  const found = policies.get(name);
  if (found) return found;
  throw notFound('policy', name, [...policies.keys()], 'Apply a workspace with that policy first.');
}
