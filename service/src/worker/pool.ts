import { Thread } from './thread.js';

/**
 * The threads that work beside the service's own: they read and judge chunks, and gather replays. The service's own
 * thread only moves what they need and make.
 */
export class WorkerPool {
  readonly workers: readonly Thread[];

  constructor(count: number) {
    this.workers = Array.from({ length: count }, () => new Thread());
  }

  /** The worker with least to do. */
  get idlest(): Thread {
    return this.team(1)[0] as Thread;
  }

  /** As many workers as there are, and no more than asked for; those with least to do first. */
  team(most: number): Thread[] {
    return this.workers.toSorted((a, b) => a.busy - b.busy).slice(0, Math.max(1, most));
  }

  start(): void {
    for (const thread of this.workers) thread.start();
  }

  async stop(): Promise<void> {
    await Promise.all(this.workers.map((thread) => thread.stop()));
  }
}
