import { setTimeout as sleep } from 'node:timers/promises';
import { flatRules, type PreparedRules } from '@jade-fence/core';
import type { Logger } from 'pino';
import { type Place, startError } from '../../http/listen.js';
import { Thread } from '../../worker/thread.js';
import { largeBuffersIn } from './large-buffers.js';
import type { GateCalls, GateCounts, GateWork } from './thread-main.js';

const AGAIN_MS = 200;

/**
 * The listener of live decisions, in a thread of its own that does nothing else: whatever the service reads, links,
 * reviews or compares meanwhile, no decision waits for it. A thread that is lost is started anew with all that it had,
 * but for what limits had counted.
 */
export class GateThread {
  readonly #thread: Thread<GateCalls>;
  readonly #logger: Logger;
  #work: GateWork | undefined;
  #rules: { readonly revision: number; readonly prepared: PreparedRules } | undefined;
  #place: Place | undefined;
  #closing: Promise<void> | undefined;

  constructor(logger: Logger) {
    this.#logger = logger;
    const options = { workerData: { logLevel: logger.level } };
    this.#thread = new Thread(new URL('thread-main.js', import.meta.url), {
      options,
      onLost: (reason) => void this.#startAnew(reason),
    });
  }

  /** Works with this from the next call on. */
  async use(work: GateWork): Promise<void> {
    await this.#thread.call('use', [work]);
    this.#work = work;
  }

  /** Listens, and answers the URL. Something to work with must have been given before. */
  async open(place: Place): Promise<string> {
    const opened = await this.#thread.call('open', [place.host, place.port]);
    if ('code' in opened) throw startError(Object.assign(new Error(opened.code), { code: opened.code }), place);
    this.#place = { ...place, port: Number(new URL(opened.url).port) };
    return opened.url;
  }

  /** Decides by these rules from the next call on; resolves once it does. */
  async decideBy(revision: number, prepared: PreparedRules): Promise<void> {
    this.#rules = { revision, prepared };
    // A copy that is moved: the other thread takes it over as it lies, in no time.
    const flat = structuredClone(flatRules(prepared));
    await this.#thread.call('decideBy', [revision, flat], largeBuffersIn(flat));
  }

  /** Takes the key of grants and the versions of passcodes that the database has now. */
  async reloadGrants(): Promise<void> {
    await this.#thread.call('reloadGrants', []);
  }

  counts(): Promise<GateCounts> {
    return this.#thread.call('counts', []);
  }

  /** Answers who has asked, writes down what is to be recorded, and ends the thread. */
  close(): Promise<void> {
    this.#closing ??= this.#thread
      .call('close', [])
      .catch((error) => this.#logger.warn({ err: error }, 'the gate was not closed well'))
      .then(() => this.#thread.stop());
    return this.#closing;
  }

  async #startAnew(reason: string): Promise<void> {
    this.#logger.error({ reason }, 'the thread of live decisions was lost; it is started anew');
    while (!this.#closing)
      try {
        if (this.#work) await this.use(this.#work);
        if (this.#rules) await this.decideBy(this.#rules.revision, this.#rules.prepared);
        if (this.#place) await this.open(this.#place);
        return;
      } catch (error) {
        this.#logger.error({ err: error }, 'the thread of live decisions could not be started');
        await sleep(AGAIN_MS);
      }
  }
}
