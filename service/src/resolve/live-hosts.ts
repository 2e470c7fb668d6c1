import { setTimeout as sleep } from 'node:timers/promises';
import type { Answer } from '@jade-fence/core/resolution';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import type { DatabaseSession } from '../database/session.js';
import { ResolutionLoad } from '../model/resolution-load.js';
import { addAnswers } from '../resolution/add.js';
import { unpack } from '../resolution/packed.js';
import { currentSettings } from '../setting/settings.js';
import { ThreadLost } from '../worker/thread.js';
import { lookUpHosts } from './look-up.js';

/** Hosts are looked up in so many batches at a time, so that one slow host does not hold up all others. */
const BATCHES = 4;
/** Live decisions of this service know an answer at once; so often all others do, and few loads are made. */
const KEEP_EVERY_MS = 3000;
const AGAIN_MS = 1000;
/** Loads of more hosts are taken with all the rules, for which they are on their way anyway. */
const MOST_PUSHED = 5000;

/** What decides live requests, as far as hosts go. */
export interface HostsDecided {
  hostsToResolve(): Promise<string[]>;
  addAnswers(answers: readonly Answer[], load: number | undefined): Promise<void>;
}

interface LiveHostsParts {
  readonly knex: Knex;
  readonly session: DatabaseSession;
  readonly gate: HostsDecided;
  /** Has it decided by all rules anew. */
  readonly reload: () => Promise<void>;
  readonly logger: Logger;
}

/** Looks up the hosts of live requests behind them, and hands what any service was answered to live decisions. */
export class LiveHosts {
  readonly #parts: LiveHostsParts;
  readonly #abort = new AbortController();
  #running: Promise<unknown> = Promise.resolve();
  /** Answers that are not kept yet. */
  #pending: Answer[] = [];
  #timer: NodeJS.Timeout | undefined;

  constructor(parts: LiveHostsParts) {
    this.#parts = parts;
  }

  open(): void {
    const { session, logger } = this.#parts;
    session.on('notification', (notification) => {
      if (notification.type !== 'resolutions') return;
      this.#push(notification.load).catch((error) =>
        logger.warn({ err: error }, 'live decisions do not know the latest answers for hosts yet'),
      );
    });
    this.#running = Promise.all(Array.from({ length: BATCHES }, () => this.#work()));
  }

  async close(): Promise<void> {
    this.#abort.abort();
    await Promise.race([this.#running, sleep(AGAIN_MS, undefined, { ref: false })]);
    await this.#keep();
  }

  async #work(): Promise<void> {
    const { gate, logger } = this.#parts;
    const { signal } = this.#abort;
    while (!signal.aborted)
      try {
        const hosts = await gate.hostsToResolve();
        if (hosts.length > 0 && !signal.aborted) await this.#resolve(hosts);
      } catch (error) {
        if (signal.aborted) return;
        // The end of the deciding process is reported by whoever starts it anew.
        if (!(error instanceof ThreadLost))
          logger.warn({ err: error }, 'hosts of live requests could not be looked up');
        await sleep(AGAIN_MS, undefined, { signal }).catch(() => undefined);
      }
  }

  async #resolve(hosts: readonly string[]): Promise<void> {
    const { knex, gate } = this.#parts;
    const settings = await currentSettings(knex);
    if (settings.dnsServers.length === 0) return;
    const paced = { ...settings, dnsPerSecond: settings.dnsPerSecond / BATCHES };
    for await (const each of lookUpHosts(hosts, paced, this.#abort.signal)) {
      if (!('answer' in each)) continue;
      await gate.addAnswers([each.answer], undefined);
      this.#pending.push(each.answer);
      this.#timer ??= setTimeout(() => void this.#keep(), KEEP_EVERY_MS);
    }
  }

  /** Keeps what was answered, for all services and for replays. */
  async #keep(): Promise<void> {
    const { knex, logger } = this.#parts;
    clearTimeout(this.#timer);
    this.#timer = undefined;
    const answers = this.#pending;
    this.#pending = [];
    if (answers.length === 0) return;
    const name = answers[0]?.from.name ?? '';
    await addAnswers(knex, answers, { kind: 'live', name, by: null }).catch((error) =>
      logger.warn({ err: error }, 'answers for hosts of live requests could not be kept'),
    );
  }

  async #push(load: number): Promise<void> {
    const { knex, gate, reload } = this.#parts;
    const found = await ResolutionLoad.query(knex).findById(load);
    if (found === undefined) return;
    if (found.anew || found.hosts > MOST_PUSHED) await reload();
    else await gate.addAnswers(unpack(found.data), load);
  }
}
