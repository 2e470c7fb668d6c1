import { EventEmitter, once } from 'node:events';
import { hasEnded, type JobState } from '@jade-fence/contract';
import type { Response } from 'express';
import type { DatabaseSession } from '../database/session.js';
import { Refusal } from '../fault/refusal.js';
import { type JobKind } from '../model/job.js';

/** What is missed while the database is away is looked up so often; it also keeps the stream alive. */
const LOOK_EVERY_MS = 2000;

/** A job that somebody looks at. */
export interface WatchedJob {
  readonly kind: JobKind;
  readonly id: number;
}

/** Hears of the progress of jobs, whichever service runs them. */
export class ProgressWatch {
  readonly #events = new EventEmitter<Record<string, []>>();
  readonly #closing = new AbortController();

  constructor(session: DatabaseSession) {
    this.#events.setMaxListeners(0);
    session.on('notification', (notification) => {
      if (notification.type === 'progress') this.#events.emit(`${notification.kind} ${notification.id}`);
    });
  }

  /** Whether the service is about to stop. */
  get closing(): boolean {
    return this.#closing.signal.aborted;
  }

  /** Waits until there is news of the job, or for a while. */
  async news({ kind, id }: WatchedJob, gone: AbortSignal): Promise<void> {
    const signal = AbortSignal.any([gone, this.#closing.signal, AbortSignal.timeout(LOOK_EVERY_MS)]);
    await once(this.#events, `${kind} ${id}`, { signal }).catch(() => undefined);
  }

  /** Ends all streams. */
  close(): void {
    this.#closing.abort();
  }
}

/**
 * Tells the progress of a job as server-sent events (WHATWG HTML, section 9.2), each of type `progress` with the job as it
 * is then, until it has ended.
 */
export async function streamProgress(
  response: Response,
  watch: ProgressWatch,
  job: WatchedJob,
  current: () => Promise<{ readonly state: JobState }>,
): Promise<void> {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  response.type('text/event-stream').flushHeaders();
  let last = '';
  while (!gone.signal.aborted && !watch.closing) {
    const news = watch.news(job, gone.signal);
    const body = await current().catch((error) => {
      // What is not there any more has no progress; a database that is away for a while has.
      if (error instanceof Refusal && error.reason === 'missing') gone.abort();
      return undefined;
    });
    if (gone.signal.aborted) break;
    const text = JSON.stringify(body);
    if (body === undefined || text === last) response.write(':\n\n');
    else response.write(`event: progress\ndata: ${text}\n\n`);
    last = text;
    if (body && hasEnded(body.state)) break;
    await news;
  }
  response.end();
}
