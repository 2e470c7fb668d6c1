import { setTimeout as sleep } from 'node:timers/promises';
import type { Knex } from 'knex';
import type { ModelClass, PartialModelObject, QueryBuilder } from 'objection';
import type { Logger } from 'pino';
import { isDatabaseLost } from '../database/faults.js';
import { type DatabaseSession, notify } from '../database/session.js';
import { Refusal } from '../fault/refusal.js';
import type { Job, JobKind } from '../model/job.js';
import { ThreadLost } from '../worker/thread.js';
import type { JobQueue } from './queue.js';

const SWEEP_EVERY_MS = 2000;
const REPORT_EVERY_MS = 250;
const CANCEL_WAIT_MS = 10_000;
const CANCEL_LOOK_MS = 50;
/** A job that was begun so often and never came to an end is not begun again: it may be what ends the service. */
const MOST_ATTEMPTS = 4;
/** A job that waits for so long and is not in the queue was left by a service that ended between the two. */
const UNQUEUED_SECONDS = 5;
/** A job is taken up by another service where its own has not said for so long that it works on it. */
const LEASE_SECONDS = 10;
const RENEW_MS = 3000;
/** No job takes longer. */
const MOST_HOURS = 12;
/** By the clock of the database, which all services share. */
const LEASE = (knex: Knex) => ({
  begunAt: knex.raw('now()'),
  leaseUntil: knex.raw("now() + ? * interval '1 second'", [LEASE_SECONDS]),
});
/** Why a job was aborted that nobody cancelled. */
const STOPPED = 'stopped';

/** What jobs of one kind are, and how they are done. */
export interface JobWork<M extends Job> {
  readonly kind: JobKind;
  readonly model: ModelClass<M>;
  /** Does it, from its start. */
  run(job: M, run: JobRun<M>): Promise<void>;
  /** Removes what a run that was broken off has left, where that can be, so that it can be begun again. */
  reset?(knex: Knex, id: number): Promise<void>;
  /** Removes what is of no use any more of one that has ended and is not done. */
  discard(knex: Knex, id: number): Promise<void>;
  /** What is kept of why one failed. */
  failure(error: unknown): Partial<M>;
  /** Narrows a query to those that may be begun, where not all that wait may. */
  ready?(query: QueryBuilder<Job, Job[]>): void;
}

/** One run of a job. */
export interface JobRun<M extends Job> {
  /** Aborted where the job is cancelled, or its service stops. */
  readonly signal: AbortSignal;
  /** Tells how far it is; now and then, so that it can be called as often as that changes. */
  progress(done: number): Promise<void>;
  /** Keeps that it is done, with what it came to; in the transaction where there is one. */
  done(patch: Partial<M>, knex?: Knex): Promise<void>;
}

export interface JobParts {
  readonly knex: Knex;
  readonly session: DatabaseSession;
  readonly queue: JobQueue;
  readonly logger: Logger;
}

/** A job was begun again elsewhere while it still ran here. What there is of it is the other's. */
class Overtaken extends Error {}

/** A job was begun as often as it may be. */
export class BegunTooOften extends Error {
  constructor(times: number) {
    super(`It was begun ${times} times, and each time the service or a worker ended before it was done.`);
  }
}

/** Runs the jobs of one kind that the queue gives this service, takes up those that others left, and cancels them. */
export class JobRunner<M extends Job> {
  readonly #parts: JobParts;
  readonly #work: JobWork<M>;
  readonly #running = new Set<{
    readonly id: number;
    readonly abort: AbortController;
    readonly ended: Promise<void>;
  }>();
  #sweeper: NodeJS.Timeout | undefined;
  #stopped = false;

  constructor(parts: JobParts, work: JobWork<M>) {
    this.#parts = parts;
    this.#work = work;
    parts.queue.take(work.kind, (id) => this.take(id));
  }

  /** Takes those back that a service left when it ended, now and from then on. */
  async open(): Promise<void> {
    const { session } = this.#parts;
    session.on('notification', (notification) => {
      if (notification.type !== 'cancel' || notification.kind !== this.#work.kind) return;
      for (const { id, abort } of this.#running) if (id === notification.id) abort.abort();
    });
    // Others take the session's end for the service's, and its jobs with it.
    session.on('lost', () => this.#abortAll());
    await this.#sweep();
    this.#sweeper = setInterval(() => void this.#sweep(), SWEEP_EVERY_MS);
  }

  /** Puts a job that is stored into the queue. */
  async enqueue(id: number): Promise<void> {
    const jobId = await this.#parts.queue.send({ kind: this.#work.kind, id });
    await this.#query().findById(id).patch({ jobId });
  }

  /** Runs a job here and now, unless another has it, and waits until it has ended or is given back. Never fails. */
  async take(id: number): Promise<void> {
    const { session, logger } = this.#parts;
    const { kind } = this.#work;
    if (session.name === undefined || this.#stopped) return;
    const abort = new AbortController();
    const ended = this.#takeAndRun(id, session.name, abort.signal).catch((error) => {
      // What cannot be written down now is found by the sweep, of this service or of another.
      logger.error({ err: error, [kind]: id }, `the ${kind} could not be ended`);
    });
    // A job that was queued twice is taken once, and the second attempt drops only itself.
    const run = { id, abort, ended };
    this.#running.add(run);
    await ended;
    this.#running.delete(run);
  }

  /** Asks a job to stop, whichever service runs it, and waits until it has. */
  async cancel(id: number): Promise<void> {
    const { knex } = this.#parts;
    const { kind } = this.#work;
    for (const end = Date.now() + CANCEL_WAIT_MS; Date.now() < end; await sleep(CANCEL_LOOK_MS)) {
      // One whose service has gone waits again before long.
      await knex.transaction(async (trx) => {
        const patch = { state: 'cancelled', finishedAt: new Date() } as const;
        const waited = await this.#query(trx).findById(id).where({ state: 'waiting' }).patch(patch);
        if (waited > 0) await this.#work.discard(trx, id);
      });
      const job = await this.#query().findById(id).select('state');
      if (job?.state !== 'running' && job?.state !== 'waiting') break;
      await notify(knex, { type: 'cancel', kind, id });
    }
    await notify(knex, { type: 'progress', kind, id });
  }

  /** Ends all that runs here; another service takes it up, or this one when it is back. */
  async stop(): Promise<void> {
    this.#stopped = true;
    this.#parts.queue.pause();
    clearInterval(this.#sweeper);
    this.#abortAll();
    await Promise.all([...this.#running].map(({ ended }) => ended));
  }

  /** Queries the columns that all kinds of jobs have. */
  #query(knex: Knex = this.#parts.knex): QueryBuilder<Job, Job[]> {
    return (this.#work.model as unknown as ModelClass<Job>).query(knex);
  }

  #ready(): QueryBuilder<Job, Job[]> {
    const query = this.#query().where({ state: 'waiting' });
    this.#work.ready?.(query);
    return query;
  }

  #abortAll(): void {
    for (const { abort } of this.#running) abort.abort(STOPPED);
  }

  async #takeAndRun(id: number, runBy: string, signal: AbortSignal): Promise<void> {
    const { knex, logger } = this.#parts;
    const { kind } = this.#work;
    const taken = await this.#query()
      .where({ id, state: 'waiting' })
      .patch({
        state: 'running',
        runBy,
        ...LEASE(knex),
        attempt: knex.raw('attempt + 1'),
        tries: knex.raw('tries + 1'),
      } as object)
      .returning('*');
    const [job] = taken as unknown as M[];
    if (!job) return;
    const renewal = setInterval(() => void this.#renew(job), RENEW_MS);
    try {
      if (job.tries > MOST_ATTEMPTS) throw new BegunTooOften(job.tries - 1);
      if (job.attempt > 1) await this.#work.reset?.(knex, id);
      await this.#work.run(job, this.#runOf(job, signal));
    } catch (error) {
      if (error instanceof Overtaken) return;
      if (signal.aborted && signal.reason !== STOPPED) return await this.#end(job, { state: 'cancelled' });
      if (signal.aborted || passes(error)) {
        if (!signal.aborted) logger.warn({ err: error, [kind]: id }, `${kind} interrupted; it is begun again`);
        return await this.#giveBack(job, signal.aborted);
      }
      // When the input is invalid, its sender gets the reason.
      if (!(error instanceof Refusal)) logger.error({ err: error, [kind]: id }, `${kind} failed`);
      await this.#end(job, { state: 'failed', ...this.#work.failure(error) });
    } finally {
      clearInterval(renewal);
    }
  }

  /** Says that the job is still worked on. Where that cannot be said any more, another may have taken it up. */
  async #renew(job: M): Promise<void> {
    const { knex } = this.#parts;
    const renewed = await this.#own(job, knex)
      .where('begunAt', '>', knex.raw("now() - ? * interval '1 hour'", [MOST_HOURS]))
      .patch({ leaseUntil: LEASE(knex).leaseUntil } as object)
      .catch(() => undefined);
    if (renewed === 0) for (const { id, abort } of this.#running) if (id === job.id) abort.abort(STOPPED);
  }

  #runOf(job: M, signal: AbortSignal): JobRun<M> {
    const { knex } = this.#parts;
    const { kind } = this.#work;
    let shown = Date.now();
    return {
      signal,
      progress: async (done) => {
        if (Date.now() - shown < REPORT_EVERY_MS) return;
        shown = Date.now();
        if ((await this.#own(job, knex).patch({ done, touchedAt: new Date() })) === 0) return;
        await notify(knex, { type: 'progress', kind, id: job.id });
      },
      done: async (patch, trx = knex) => {
        const ended = await this.#own(job, trx).patch({ ...patch, state: 'done', finishedAt: new Date() } as object);
        if (ended === 0) throw new Overtaken();
        // In a transaction it is sent on commit.
        await notify(trx, { type: 'progress', kind, id: job.id });
      },
    };
  }

  /** The job, as long as it is run here and was not begun again meanwhile. */
  #own({ id, attempt }: Job, knex: Knex): QueryBuilder<Job, Job[]> {
    return this.#query(knex).where({ id, state: 'running', attempt });
  }

  /** Ends a job that is not done. */
  async #end(job: M, patch: PartialModelObject<Job>): Promise<void> {
    const { knex } = this.#parts;
    const { kind } = this.#work;
    await knex.transaction(async (trx) => {
      const ended = await this.#own(job, trx).patch({ ...patch, finishedAt: new Date() });
      if (ended > 0) await this.#work.discard(trx, job.id);
    });
    await notify(knex, { type: 'progress', kind, id: job.id });
  }

  /** Lets go of a job, so that it is begun again here or elsewhere. */
  async #giveBack(job: M, byItself: boolean): Promise<void> {
    const { knex } = this.#parts;
    // A service that stops in good order says nothing against the job.
    const tries = byItself ? { tries: knex.raw('greatest(tries - 1, 0)') } : {};
    const given = await this.#own(job, knex).patch({ state: 'waiting', runBy: null, done: 0, ...tries } as object);
    if (given > 0 && (await this.#ready().findById(job.id))) await this.enqueue(job.id);
  }

  /** Puts those jobs into the queue again whose service has gone. */
  async #sweep(): Promise<void> {
    const { knex, queue, logger } = this.#parts;
    const { kind } = this.#work;
    try {
      // A machine that slept wakes with all leases over; what runs here goes on, and is renewed in a moment.
      const here = [...this.#running].map(({ id }) => id);
      const left = (await this.#query()
        .where({ state: 'running' })
        .whereNotIn('id', here)
        .where((query) => query.whereNull('leaseUntil').orWhere('leaseUntil', '<', knex.raw('now()')))
        .patch({ state: 'waiting', runBy: null, done: 0 })
        .returning(['id', 'jobId'])) as unknown as Job[];
      for (const { id, jobId } of left) {
        if (jobId !== null) await queue.drop({ kind, jobId });
        logger.warn({ [kind]: id }, `took up the ${kind} that a service left`);
      }
      const leftNow = left.map(({ id }) => id);
      const waiting = await this.#ready()
        .where((query) =>
          query
            .whereIn('id', leftNow)
            .orWhere('startedAt', '<', knex.raw(`now() - interval '${UNQUEUED_SECONDS} seconds'`)),
        )
        .select('id', 'jobId');
      for (const { id, jobId } of waiting)
        if (leftNow.includes(id) || jobId === null || !(await queue.holds({ kind, jobId }))) await this.enqueue(id);
    } catch (error) {
      logger.warn({ err: error }, `what there is of the kind ${kind} cannot be looked through`);
    }
  }
}

/** Whether what failed may well succeed when it is tried again. */
const passes = (error: unknown): boolean => error instanceof ThreadLost || isDatabaseLost(error);
