import { mkdir } from 'node:fs/promises';
import { type FeedOutcome } from '@jade-fence/contract';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import type { Feed } from '../model/feed.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { refreshFeed } from './refresh.js';
import { takeDueFeed } from './store.js';

/** How often it is looked whether a feed is due. */
const LOOK_MS = 5000;

/** Refreshes feeds when they are due, one after the other. Services that share a database share the work. */
export class FeedClock {
  readonly #knex: Knex;
  readonly #states: PreparedStates;
  readonly #logger: Logger;
  readonly #closing = new AbortController();
  /** The folder that files of feeds are taken from. */
  readonly folder: string;
  #timer: NodeJS.Timeout | undefined;
  #looking: Promise<void> | undefined;

  constructor(parts: { knex: Knex; states: PreparedStates; folder: string; logger: Logger }) {
    this.#knex = parts.knex;
    this.#states = parts.states;
    this.folder = parts.folder;
    this.#logger = parts.logger;
  }

  async open(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    this.#timer = setInterval(() => {
      this.#looking ??= this.#look().finally(() => {
        this.#looking = undefined;
      });
    }, LOOK_MS);
    this.#timer.unref();
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    this.#closing.abort();
    await this.#looking;
  }

  /** Refreshes a feed now. */
  refresh(feed: Feed): Promise<FeedOutcome> {
    const parts = { knex: this.#knex, states: this.#states, folder: this.folder, signal: this.#closing.signal };
    return refreshFeed(parts, feed);
  }

  async #look(): Promise<void> {
    try {
      for (;;) {
        if (this.#closing.signal.aborted) return;
        const due = await takeDueFeed(this.#knex, new Date());
        if (!due) return;
        const { outcome, what } = await this.refresh(due);
        if (outcome === 'failed') this.#logger.warn({ list: due.list, what }, 'a feed could not be refreshed');
      }
    } catch (error) {
      this.#logger.warn({ err: error }, 'feeds could not be looked at');
    }
  }
}
