import type { CallName, Calls } from './calls.js';
import { Thread, ThreadLost } from './thread.js';

/** A call is failed when this many workers were lost over it. */
const MOST_TRIES = 3;

/**
 * The threads that work beside the service's own: they read and judge chunks, and coordinate replays. The service's own
 * thread only moves what they need and make. Each is started by the first call that it gets.
 */
export class WorkerPool {
  readonly workers: readonly Thread[];

  /** `thread` makes one. */
  constructor(count: number, thread: () => Thread = () => new Thread()) {
    this.workers = Array.from({ length: count }, thread);
  }

  /** The worker with least to do. */
  get idlest(): Thread {
    return this.team(1)[0] as Thread;
  }

  /** Asks the worker with least to do, and another where that is lost. For calls that need nothing of earlier ones. */
  async ask<K extends CallName>(name: K, args: Parameters<Calls[K]>): Promise<ReturnType<Calls[K]>> {
    for (let tries = 1; ; tries++)
      try {
        return await this.idlest.call(name, args);
      } catch (error) {
        if (!(error instanceof ThreadLost) || tries === MOST_TRIES) throw error;
      }
  }

  /** At most this many workers; those with least to do first. */
  team(most: number): Thread[] {
    return this.workers.toSorted((a, b) => a.busy - b.busy).slice(0, Math.max(1, most));
  }

  async stop(): Promise<void> {
    await Promise.all(this.workers.map((thread) => thread.stop()));
  }
}
