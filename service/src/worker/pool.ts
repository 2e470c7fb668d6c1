import { Thread } from './thread.js';

/**
 * The threads that work beside the service's own: some that read and judge chunks, and one that gathers replays. The
 * service's own thread only moves what they need and make.
 */
export class WorkerPool {
  readonly workers: readonly Thread[];
  readonly gatherer = new Thread();

  constructor(count: number) {
    this.workers = Array.from({ length: count }, () => new Thread());
  }

  /** The worker with least to do. */
  get idlest(): Thread {
    return this.workers.reduce((least, each) => (each.busy < least.busy ? each : least));
  }

  start(): void {
    for (const thread of [...this.workers, this.gatherer]) thread.start();
  }

  async stop(): Promise<void> {
    await Promise.all([...this.workers, this.gatherer].map((thread) => thread.stop()));
  }
}
