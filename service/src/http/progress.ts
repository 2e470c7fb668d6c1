import { EventEmitter, once } from 'node:events';
import type { Response } from 'express';
import type { DatabaseSession } from '../database/session.js';
import type { ReplayBody } from './bodies.js';
import { Problem } from './problem.js';

/** What is missed while the database is away is looked up so often; it also keeps the stream alive. */
const LOOK_EVERY_MS = 2000;

/** Hears of the progress of replays, whichever service runs them. */
export class ProgressWatch {
  readonly #told = new EventEmitter<Record<string, []>>();
  readonly #closing = new AbortController();

  constructor(session: DatabaseSession) {
    this.#told.setMaxListeners(0);
    session.on('told', (told) => {
      if (told.type === 'progress') this.#told.emit(String(told.replay));
    });
  }

  /** Whether the service is about to stop. */
  get closing(): boolean {
    return this.#closing.signal.aborted;
  }

  /** Waits until there is news of the replay, or for a while. */
  async news(replay: number, gone: AbortSignal): Promise<void> {
    const signal = AbortSignal.any([gone, this.#closing.signal, AbortSignal.timeout(LOOK_EVERY_MS)]);
    await once(this.#told, String(replay), { signal }).catch(() => undefined);
  }

  /** Ends all streams. */
  close(): void {
    this.#closing.abort();
  }
}

/**
 * Tells the progress of a replay as server-sent events (WHATWG HTML, section 9.2), each of type `progress` with the
 * replay as it is then, until it has ended.
 */
export async function streamProgress(
  response: Response,
  watch: ProgressWatch,
  replay: number,
  current: () => Promise<ReplayBody>,
): Promise<void> {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  response.type('text/event-stream').flushHeaders();
  let last = '';
  while (!gone.signal.aborted && !watch.closing) {
    const news = watch.news(replay, gone.signal);
    const body = await current().catch((error) => {
      // What is not there any more has no progress; a database that is away for a while has.
      if (error instanceof Problem && error.status === 404) gone.abort();
      return undefined;
    });
    if (gone.signal.aborted) break;
    const text = JSON.stringify(body);
    if (body === undefined || text === last) response.write(':\n\n');
    else response.write(`event: progress\ndata: ${text}\n\n`);
    last = text;
    if (body && body.state !== 'waiting' && body.state !== 'running') break;
    await news;
  }
  response.end();
}
