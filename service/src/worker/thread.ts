import { Worker, type WorkerOptions } from 'node:worker_threads';
import type { AnyCalls, Call, Reply } from './answer-calls.js';
import type { Calls } from './calls.js';

/** A worker thread ended before it answered, as one does that runs out of memory. */
export class ThreadLost extends Error {}

interface Waiting {
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: Error) => void;
}

/** How a thread is started, and who is told why it ended where nobody ended it. */
export interface ThreadSettings {
  readonly options?: WorkerOptions;
  readonly onLost?: (reason: string) => void;
}

type Answer<C extends AnyCalls, K extends keyof C> = Awaited<ReturnType<C[K]>>;

/** A worker thread, started when it is first asked; one that is lost is started anew for the next call. */
export class Thread<C extends AnyCalls = Calls> {
  readonly #script: URL;
  readonly #settings: ThreadSettings;
  #worker: Worker | undefined;
  #waiting = new Map<number, Waiting>();
  #calls = 0;
  #stopped = false;

  constructor(script = new URL('thread-main.js', import.meta.url), settings: ThreadSettings = {}) {
    this.#script = script;
    this.#settings = settings;
  }

  /** How many calls are not answered yet. */
  get busy(): number {
    return this.#waiting.size;
  }

  /** Has the thread do something. Buffers in `moved` are gone here, and are not copied. */
  async call<K extends keyof C & string>(
    name: K,
    args: Parameters<C[K]>,
    moved: readonly ArrayBuffer[] = [],
  ): Promise<Answer<C, K>> {
    const worker = this.#started();
    const id = ++this.#calls;
    return new Promise<Answer<C, K>>((resolve, reject) => {
      this.#waiting.set(id, { resolve: resolve as Waiting['resolve'], reject });
      // Little is moved: once one buffer of a thread was, all that its code does with any is looked at twice.
      worker.postMessage({ id, name, args } satisfies Call, moved);
    });
  }

  /** Starts it before it is asked, so that the first call does not wait for that. */
  start(): void {
    this.#started();
  }

  /** Ends it for good. */
  async stop(): Promise<void> {
    this.#stopped = true;
    await this.#worker?.terminate();
  }

  #started(): Worker {
    // One that is started for who comes too late would keep the process alive.
    if (this.#stopped) throw new ThreadLost('a worker thread was stopped');
    if (this.#worker) return this.#worker;
    const worker = new Worker(this.#script, this.#settings.options);
    this.#worker = worker;
    worker.on('message', (reply: Reply) => this.#answered(reply));
    let reason = 'it ended';
    worker.on('error', (error) => {
      reason = error.message;
    });
    worker.on('exit', () => this.#lost(worker, reason));
    return worker;
  }

  #answered(reply: Reply): void {
    const waiting = this.#waiting.get(reply.id);
    this.#waiting.delete(reply.id);
    if ('result' in reply) waiting?.resolve(reply.result);
    else waiting?.reject(Object.assign(new Error(reply.error.message), { stack: reply.error.stack }));
  }

  #lost(worker: Worker, reason: string): void {
    if (this.#worker !== worker) return;
    this.#worker = undefined;
    const lost = this.#waiting;
    this.#waiting = new Map();
    for (const { reject } of lost.values()) reject(new ThreadLost(`a worker thread was lost: ${reason}`));
    if (!this.#stopped) this.#settings.onLost?.(reason);
  }
}
