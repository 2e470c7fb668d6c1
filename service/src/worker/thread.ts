import type { AnyCalls, Reply } from './answer-calls.js';
import type { Calls } from './calls.js';
import { type Lane, type StartLane, threadLane } from './lane.js';

/** A worker ended before it answered, as one does that runs out of memory. */
export class ThreadLost extends Error {}

interface Waiting {
  readonly resolve: (result: unknown) => void;
  readonly reject: (error: Error) => void;
}

type Answer<C extends AnyCalls, K extends keyof C> = Awaited<ReturnType<C[K]>>;

/** A worker, started when it is first asked; one that is lost is started anew for the next call. */
export class Thread<C extends AnyCalls = Calls> {
  readonly #start: StartLane;
  readonly #onLost: (reason: string) => void;
  #lane: Lane | undefined;
  #waiting = new Map<number, Waiting>();
  #calls = 0;
  #stopped = false;

  /** `onLost` is called with the reason where the worker ends and nobody has ended it. */
  constructor(start = threadLane(MAIN), onLost: (reason: string) => void = () => undefined) {
    this.#start = start;
    this.#onLost = onLost;
  }

  /** How many calls are not answered yet. */
  get busy(): number {
    return this.#waiting.size;
  }

  /** Has the worker do something. */
  async call<K extends keyof C & string>(name: K, args: Parameters<C[K]>): Promise<Answer<C, K>> {
    const lane = this.#started();
    const id = ++this.#calls;
    return new Promise<Answer<C, K>>((resolve, reject) => {
      this.#waiting.set(id, { resolve: resolve as Waiting['resolve'], reject });
      lane.send({ id, name, args });
    });
  }

  /** Starts it before it is asked, so that the first call does not wait for that. */
  start(): void {
    this.#started();
  }

  /** Ends it for good. */
  async stop(): Promise<void> {
    this.#stopped = true;
    await this.#lane?.end();
  }

  #started(): Lane {
    // One that is started for who comes too late would keep the process alive.
    if (this.#stopped) throw new ThreadLost('a worker was stopped');
    if (this.#lane) return this.#lane;
    const lane = this.#start({
      answered: (reply) => this.#answered(reply),
      ended: (reason) => this.#ended(lane, reason),
    });
    this.#lane = lane;
    return lane;
  }

  #answered(reply: Reply): void {
    const waiting = this.#waiting.get(reply.id);
    this.#waiting.delete(reply.id);
    if ('result' in reply) waiting?.resolve(reply.result);
    else waiting?.reject(Object.assign(new Error(reply.error.message), { stack: reply.error.stack }));
  }

  #ended(lane: Lane, reason: string): void {
    if (this.#lane !== lane) return;
    this.#lane = undefined;
    const lost = this.#waiting;
    this.#waiting = new Map();
    for (const { reject } of lost.values()) reject(new ThreadLost(`a worker was lost: ${reason}`));
    if (!this.#stopped) this.#onLost(reason);
  }
}

/** What answers the calls of the pool. */
export const MAIN = new URL('thread-main.js', import.meta.url);
