import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { flatRules, type PreparedRules } from '@jade-fence/core/engine';
import type { Answer } from '@jade-fence/core/resolution';
import type { Logger } from 'pino';
import { processLane } from '../../worker/lane.js';
import { Thread, ThreadLost } from '../../worker/thread.js';
import { listenError, type Place } from '../listen.js';
import { writeFlat } from './flat-file.js';
import type { GateCalls, GateCounts, GateWork } from './gate-main.js';

const AGAIN_MS = 200;
/** Rules are on their way for seconds. */
const OLD_MS = 60_000;
const MAIN = new URL('gate-main.js', import.meta.url);

/**
 * The listener of live decisions, in a process of its own that does nothing else: whatever the service reads, links,
 * reviews or compares meanwhile, no decision waits for it. One that is lost is started anew with all that it had, but for
 * what limits had counted.
 */
export class GateProcess {
  readonly #process: Thread<GateCalls>;
  readonly #logger: Logger;
  /** Rules lie there on their way. */
  readonly #folder: string;
  #work: GateWork | undefined;
  /** Has it decide by the rules again that it has lost. */
  #again: () => Promise<void> = async () => undefined;
  #place: Place | undefined;
  #closing: Promise<void> | undefined;
  /** Whether the process has ended since it was last started with all that it had. */
  #lost = false;
  /** The start that is under way: one, however often the process ends meanwhile. */
  #starting: Promise<void> | undefined;

  constructor(dataDir: string, logger: Logger) {
    this.#folder = join(dataDir, 'gate');
    this.#logger = logger;
    this.#process = new Thread(processLane(MAIN, [logger.level]), (reason) => this.#onLost(reason));
  }

  /** Starts the process, with nothing to decide by yet. */
  start(): void {
    this.#process.start();
  }

  /** Works with this from the next call on. */
  async use(work: GateWork): Promise<void> {
    // Known before the call, so that a process that is lost over it begins with this.
    this.#work = work;
    await this.#process.call('use', [work]).catch(async (error) => {
      if (!(error instanceof ThreadLost) || this.#closing) throw error;
      await this.#starting;
    });
  }

  /** Listens, and answers the URL. Something to work with must have been given before. */
  async open(place: Place): Promise<string> {
    // A process that is just being started anew has nothing to work with yet.
    await this.#starting;
    return this.#open(place);
  }

  async #open(place: Place): Promise<string> {
    const opened = await this.#process.call('open', [place.host, place.port]);
    if ('code' in opened) throw listenError(Object.assign(new Error(opened.code), { code: opened.code }), place);
    this.#place = { ...place, port: Number(new URL(opened.url).port) };
    return opened.url;
  }

  /** Calls `again` whenever the process is started anew; `again` resolves once the process decides by the rules. */
  whenAnew(again: () => Promise<void>): void {
    this.#again = again;
  }

  /** Decides by these rules from the next call on; resolves once it does. They are not kept here. */
  async decideBy(revision: number, prepared: PreparedRules): Promise<void> {
    await removeOld(this.#folder);
    const file = await writeFlat(this.#folder, flatRules(prepared));
    try {
      await this.#process.call('decideBy', [revision, file]);
    } finally {
      await rm(file, { force: true });
    }
  }

  /** Takes the key of grants and the versions of passcodes that the database has now. */
  async reloadGrants(): Promise<void> {
    await this.#process.call('reloadGrants', []);
  }

  /** Hosts that requests went to and nobody has looked up, as soon as there are any; none after a while. */
  hostsToResolve(): Promise<string[]> {
    return this.#process.call('hostsToResolve', []);
  }

  /** Decides by these answers too from the next request on; `load` is theirs, undefined before they are stored. */
  async addAnswers(answers: readonly Answer[], load: number | undefined): Promise<void> {
    await this.#process.call('addAnswers', [answers, load]);
  }

  counts(): Promise<GateCounts> {
    return this.#process.call('counts', []);
  }

  /** Answers who has asked, writes down what is to be recorded, and ends the process. */
  close(): Promise<void> {
    this.#closing ??= this.#process
      .call('close', [])
      .catch((error) => this.#logger.warn({ err: error }, 'the gate was not closed well'))
      .then(() => this.#process.stop());
    return this.#closing;
  }

  #onLost(reason: string): void {
    if (this.#closing) return;
    this.#logger.error({ reason }, 'the process of live decisions ended; it is started anew');
    this.#lost = true;
    this.#starting ??= this.#startAnew().finally(() => {
      this.#starting = undefined;
    });
  }

  async #startAnew(): Promise<void> {
    while (this.#lost && !this.#closing) {
      this.#lost = false;
      try {
        if (this.#work) await this.#process.call('use', [this.#work]);
        await this.#again();
        if (this.#place) await this.#open(this.#place);
      } catch (error) {
        this.#logger.error({ err: error }, 'the process of live decisions could not be started');
        this.#lost = true;
        await sleep(AGAIN_MS);
      }
    }
  }
}

/** Removes what a service has left that was killed while rules were on their way; rules of others may be on theirs. */
async function removeOld(folder: string): Promise<void> {
  const names = await readdir(folder).catch(() => []);
  for (const name of names) {
    const path = join(folder, name);
    const age = await stat(path).then(
      ({ mtimeMs }) => Date.now() - mtimeMs,
      () => 0,
    );
    if (age > OLD_MS) await rm(path, { force: true });
  }
}
