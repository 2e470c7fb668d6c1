import type { Knex } from 'knex';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Database } from '../database/connect.js';
import { type DatabaseSession, notify } from '../database/session.js';
import { JOB_KINDS, type JobKind } from '../model/job.js';
import { startError } from '../start-error.js';

const SCHEMA = 'jade_fence_jobs';
/** The queue of all kinds of jobs, before each had its own. */
const QUEUE_BEFORE = 'jobs';
const CONNECTIONS = 2;
/** The database wakes a service at once; this is for a missed notification. */
const LOOK_EVERY_MS = 2000;
/** Longer than any job takes: the lease in the table shows whether it is still worked on. */
const LONGEST_HOURS = 23;

/** What a job is about. */
export interface QueuedJob {
  readonly kind: JobKind;
  readonly id: number;
}

/** The state of a job in the queue of its kind. */
export interface Queued {
  readonly kind: JobKind;
  readonly jobId: string;
}

/** Does a job. It must not fail: it records its own outcome. */
type Take = (id: number) => Promise<void>;

/** The jobs that services on one database share, in a queue for each kind. Each is taken by one of them. */
export class JobQueue {
  readonly #knex: Knex;
  readonly #boss: PgBoss;
  readonly #session: DatabaseSession;
  readonly #logger: Logger;
  readonly #most: number;
  readonly #takers = new Map<JobKind, Take>();
  readonly #running = new Map<JobKind, number>();
  #taking = false;
  #looking = false;
  #again = false;
  #timer: NodeJS.Timeout | undefined;

  /** Takes `most` jobs of each kind at a time, so that none waits for those of another. */
  constructor(
    { knex, connection }: Pick<Database, 'knex' | 'connection'>,
    session: DatabaseSession,
    logger: Logger,
    most = 2,
  ) {
    this.#knex = knex;
    this.#session = session;
    this.#logger = logger;
    this.#most = most;
    this.#boss = new PgBoss({
      ...connection,
      max: CONNECTIONS,
      schema: SCHEMA,
      schedule: false,
    } as PgBoss.ConstructorOptions);
    this.#boss.on('error', (error) => logger.warn({ err: error }, 'the job queue has trouble'));
  }

  /** Sets how jobs of the kind are done. Call it for all kinds before the queue is started. */
  take(kind: JobKind, take: Take): void {
    this.#takers.set(kind, take);
  }

  /** Takes jobs from now on. */
  async start(): Promise<void> {
    try {
      await this.#boss.start();
      for (const kind of JOB_KINDS) await this.#boss.createQueue(kind);
      await this.#boss.deleteQueue(QUEUE_BEFORE);
    } catch (error) {
      throw startError('database/queue', { message: (error as Error).message, schema: SCHEMA });
    }
    this.#taking = true;
    const look = () => void this.#look();
    this.#session.on('notification', ({ type }) => type === 'jobs' && look());
    this.#session.on('connected', look);
    this.#timer = setInterval(look, LOOK_EVERY_MS);
    look();
  }

  /** Puts a job into the queue, and wakes who takes jobs. Answers its number. */
  async send(job: QueuedJob): Promise<string> {
    const id = await this.#boss.send(job.kind, job, { expireInHours: LONGEST_HOURS, retryLimit: 0 });
    await notify(this.#knex, { type: 'jobs' });
    return id as string;
  }

  /** Takes a job out of the queue, whatever state it is in. */
  async drop({ kind, jobId }: Queued): Promise<void> {
    await this.#boss.deleteJob(kind, jobId);
  }

  /** Whether the job still waits to be taken. */
  async holds({ kind, jobId }: Queued): Promise<boolean> {
    const job = await this.#boss.getJobById(kind, jobId);
    return job !== null && (job.state === 'created' || job.state === 'retry');
  }

  /** Takes no more jobs; those that are put into the queue from now on are for others. */
  pause(): void {
    this.#taking = false;
    clearInterval(this.#timer);
  }

  async stop(): Promise<void> {
    this.pause();
    await this.#boss.stop({ graceful: false, wait: true }).catch(() => undefined);
  }

  /** Takes what there is to take; one look at a time. */
  async #look(): Promise<void> {
    this.#again = true;
    if (this.#looking) return;
    this.#looking = true;
    try {
      while (this.#again && this.#taking) {
        this.#again = false;
        for (const kind of this.#takers.keys())
          if (this.#runningOf(kind) < this.#most)
            for (const job of await this.#boss.fetch<QueuedJob>(kind, { batchSize: 1 })) void this.#run(kind, job);
      }
    } catch (error) {
      this.#logger.warn({ err: error }, 'the job queue cannot be reached');
    } finally {
      this.#looking = false;
    }
  }

  #runningOf(kind: JobKind): number {
    return this.#running.get(kind) ?? 0;
  }

  async #run(kind: JobKind, { id, data }: PgBoss.Job<QueuedJob>): Promise<void> {
    this.#running.set(kind, this.#runningOf(kind) + 1);
    this.#again = true;
    try {
      // What was fetched while the queue was paused is left: the next service finds that it has no job.
      if (this.#taking) await this.#takers.get(kind)?.(data.id);
      await this.#boss.deleteJob(kind, id);
    } catch (error) {
      this.#logger.warn({ err: error, job: id }, 'a job could not be ended');
    } finally {
      this.#running.set(kind, this.#runningOf(kind) - 1);
      void this.#look();
    }
  }
}
