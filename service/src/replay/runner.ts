import { setTimeout as sleep } from 'node:timers/promises';
import {
  type LogFilter,
  logMayHold,
  numberSlots,
  type Policy,
  type Prepared,
  runScope,
  type SourceFile,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { isDatabaseFull, isDatabaseLost } from '../database/faults.js';
import { type DatabaseSession, noSession, tell } from '../database/session.js';
import { notFound } from '../http/suggestion.js';
import type { JobQueue } from '../job/queue.js';
import { chunkBytes } from '../log/store.js';
import { Replay, ReplayChunk } from '../model/replay.js';
import { LogChunk, type RequestLog } from '../model/request-log.js';
import type { Revision } from '../model/revision.js';
import type { WorkerPool } from '../worker/pool.js';
import { ThreadLost } from '../worker/thread.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { currentState, revisionState, stateKey, wholeParts } from '../workspace/state.js';
import { checkFiles, documentsOf } from '../workspace/store.js';
import { mayHoldTimes } from './chunks.js';
import { replayChunks, type SourceChunk } from './pipeline.js';
import { requireCatalogued } from './requests.js';
import { stateOf } from './store.js';

const TELL_EVERY_MS = 250;
const SWEEP_EVERY_MS = 2000;
const CANCEL_WAIT_MS = 10_000;
const CANCEL_LOOK_MS = 50;
/** A replay that was begun so often and never came to an end is not begun again: it may be what ends the service. */
const MOST_ATTEMPTS = 4;
/** A replay that waits for so long and has no job was left by a service that ended between the two. */
const JOBLESS_SECONDS = 5;
/** Why a replay was aborted that nobody cancelled. */
const STOPPED = 'stopped';

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
}

export interface RunnerParts {
  readonly knex: Knex;
  readonly states: PreparedStates;
  readonly session: DatabaseSession;
  readonly queue: JobQueue;
  readonly pool: WorkerPool;
  readonly logger: Logger;
}

/** Orders replays, runs those that the queue gives this service, and cancels them. */
export class ReplayRunner {
  readonly #parts: RunnerParts;
  readonly #running = new Map<number, { readonly abort: AbortController; readonly ended: Promise<void> }>();
  #sweeper: NodeJS.Timeout | undefined;

  constructor(parts: RunnerParts) {
    this.#parts = parts;
  }

  /** Takes replays from the queue from now on, and those back that a service left when it ended. */
  async open(): Promise<void> {
    const { session, queue } = this.#parts;
    session.on('told', (told) => told.type === 'cancel' && this.#running.get(told.replay)?.abort.abort());
    // Others take the session's end for the service's, and its replays with it.
    session.on('lost', () => this.#abortAll());
    await queue.start(({ replay }) => this.#take(replay));
    await this.#sweep();
    this.#sweeper = setInterval(() => void this.#sweep(), SWEEP_EVERY_MS);
  }

  /** Stores the replay and puts it into the queue; answers at once. */
  async order({ logs, revision, policy, only, files, at }: ReplayOrder): Promise<Replay> {
    const { knex, states } = this.#parts;
    const base = revision === undefined ? await currentState(knex, at) : revisionState(revision, at);
    const documents =
      files.length > 0
        ? await checkFiles(knex, states.readings, await documentsOf(knex, base.versionIds), files)
        : null;
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
        judgedAt: at,
        slots: [...slots],
        redactions: Object.fromEntries(policies.map(({ name, redact }) => [name, redact])),
      })
      .returning('*');
    await this.#enqueue(replay.id);
    return replay;
  }

  /** Asks a replay to stop, whichever service runs it, and waits until it has. */
  async cancel(id: number): Promise<void> {
    const { knex } = this.#parts;
    for (const end = Date.now() + CANCEL_WAIT_MS; Date.now() < end; await sleep(CANCEL_LOOK_MS)) {
      // One whose service has gone waits again before long.
      await Replay.query(knex)
        .findById(id)
        .where({ state: 'waiting' })
        .patch({ state: 'cancelled', finishedAt: new Date() });
      const replay = await Replay.query(knex).findById(id).select('state');
      if (replay?.state !== 'running' && replay?.state !== 'waiting') break;
      await tell(knex, { type: 'cancel', replay: id });
    }
    await tell(knex, { type: 'progress', replay: id });
  }

  /** Ends all that runs here; another service takes it up, or this one when it is back. */
  async stop(): Promise<void> {
    this.#parts.queue.pause();
    clearInterval(this.#sweeper);
    this.#abortAll();
    await Promise.all([...this.#running.values()].map(({ ended }) => ended));
  }

  #abortAll(): void {
    for (const { abort } of this.#running.values()) abort.abort(STOPPED);
  }

  async #enqueue(id: number): Promise<void> {
    const { knex, queue } = this.#parts;
    await Replay.query(knex)
      .findById(id)
      .patch({ jobId: await queue.send({ replay: id }) });
  }

  async #take(id: number): Promise<void> {
    const { knex, session, logger } = this.#parts;
    const runBy = session.name;
    if (runBy === undefined) return;
    const abort = new AbortController();
    const takeAndRun = async () => {
      const taken = await Replay.query(knex)
        .where({ id, state: 'waiting' })
        .patch({ state: 'running', runBy, begunAt: new Date(), attempt: knex.raw('attempt + 1') })
        .returning('*');
      const [replay] = taken as unknown as Replay[];
      if (replay) await this.#run(replay, abort.signal);
    };
    const ended = takeAndRun().catch((error) => {
      // What cannot be written down now is found by the sweep, of this service or of another.
      logger.error({ err: error, replay: id }, 'a replay could not be ended');
    });
    this.#running.set(id, { abort, ended });
    await ended;
    this.#running.delete(id);
  }

  async #run(replay: Replay, signal: AbortSignal): Promise<void> {
    const { knex, logger } = this.#parts;
    try {
      if (replay.attempt > MOST_ATTEMPTS) return await this.#end(replay, tooOften(replay));
      await ReplayChunk.query(knex).where({ replayId: replay.id }).delete();
      const report = await this.#judgeAll(replay, signal);
      if (!signal.aborted) await this.#end(replay, { state: 'done', done: replay.total, report });
      else if (signal.reason === STOPPED) await this.#giveBack(replay);
      else await this.#end(replay, { state: 'cancelled' });
    } catch (error) {
      if (signal.aborted && signal.reason !== STOPPED) return await this.#end(replay, { state: 'cancelled' });
      if (passes(error)) {
        logger.warn({ err: error, replay: replay.id }, 'replay interrupted; it is begun again');
        return await this.#giveBack(replay);
      }
      logger.error({ err: error, replay: replay.id }, 'replay failed');
      await this.#end(replay, { state: 'failed', failure: failureOf(error) });
    }
  }

  async #judgeAll(replay: Replay, signal: AbortSignal): Promise<string> {
    const { knex, pool } = this.#parts;
    const state = stateOf(replay);
    const scope = { key: stateKey(state), state: await wholeParts(knex, state), policy: replay.policy ?? undefined };
    let done = 0;
    let told = Date.now();
    return replayChunks(pool, {
      run: `${replay.id}/${replay.attempt}`,
      scope,
      only: replay.only ?? undefined,
      chunks: await sourceChunks(knex, replay),
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
        if (Date.now() - told < TELL_EVERY_MS) return;
        told = Date.now();
        await Replay.query(knex).findById(replay.id).patch({ done, touchedAt: new Date() });
        await tell(knex, { type: 'progress', replay: replay.id });
      },
    });
  }

  /** Ends a replay that this service still runs. What was judged of one that is not done is of no use. */
  async #end(replay: Replay, patch: Partial<Replay>): Promise<void> {
    const { knex } = this.#parts;
    await knex.transaction(async (trx) => {
      const ended = await Replay.query(trx)
        .where({ id: replay.id, state: 'running', attempt: replay.attempt })
        .patch({ ...patch, finishedAt: new Date() });
      // Where it was begun anew meanwhile, what there is of it is the other's.
      if (ended > 0 && patch.state !== 'done') await ReplayChunk.query(trx).where({ replayId: replay.id }).delete();
    });
    await tell(knex, { type: 'progress', replay: replay.id });
  }

  /** Lets go of a replay, so that it is begun again here or elsewhere. */
  async #giveBack(replay: Replay): Promise<void> {
    const { knex } = this.#parts;
    const given = await Replay.query(knex)
      .where({ id: replay.id, state: 'running', attempt: replay.attempt })
      .patch({ state: 'waiting', runBy: null, done: 0 });
    if (given > 0) await this.#enqueue(replay.id);
  }

  /** Puts those replays into the queue again whose service has gone. */
  async #sweep(): Promise<void> {
    const { knex, queue, logger } = this.#parts;
    try {
      const left = (await Replay.query(knex)
        .where({ state: 'running' })
        .whereRaw(noSession('run_by'))
        .patch({ state: 'waiting', runBy: null, done: 0 })
        .returning(['id', 'jobId'])) as unknown as Replay[];
      const waiting = await Replay.query(knex)
        .where({ state: 'waiting' })
        .where('startedAt', '<', knex.raw(`now() - interval '${JOBLESS_SECONDS} seconds'`))
        .select('id', 'jobId');
      for (const { id, jobId } of waiting) if (jobId === null || !(await queue.holds(jobId))) await this.#enqueue(id);
      for (const { id, jobId } of left) {
        if (jobId !== null) await queue.drop(jobId);
        await this.#enqueue(id);
        logger.warn({ replay: id }, 'took up a replay that a service left');
      }
    } catch (error) {
      logger.warn({ err: error }, 'the replays cannot be looked through');
    }
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

/** Whether what failed may well succeed when it is tried again. */
const passes = (error: unknown): boolean => error instanceof ThreadLost || isDatabaseLost(error);

function failureOf(error: unknown): string {
  return isDatabaseFull(error)
    ? 'The database has no room for it. Make room on its disk, and run it again.'
    : 'The replay failed; the log of the service says why.';
}

function tooOften({ attempt }: Replay): Partial<Replay> {
  const failure = `It was begun ${attempt - 1} times, and each time the service or a worker ended before it was done.`;
  return { state: 'failed', failure };
}

function policyOf(prepared: Prepared, name: string): Policy {
  const { policies } = prepared.workspace;
  const found = policies.get(name);
  if (found) return found;
  throw notFound('policy', name, [...policies.keys()], 'Apply a workspace with that policy first.');
}
