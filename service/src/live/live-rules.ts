import { EventEmitter } from 'node:events';
import type { PreparedRules } from '@jade-fence/core/engine';
import { nextExpiry } from '@jade-fence/core/live';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import type { DatabaseSession } from '../database/session.js';
import { publishedRevision } from '../revision/store.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { revisionState } from '../workspace/state.js';

/** Timers take no longer spans; it is looked again then. */
const LONGEST_WAIT_MS = 3_600_000;
const AGAIN_MS = 1000;

/** Has decisions made by the rules of a revision; resolves once they are. */
export type DecideBy = (revision: number, rules: PreparedRules) => Promise<void>;

/** Has the published revision decided by: anew with every publish, and whenever an entry of a list runs out. */
export class LiveRules extends EventEmitter<{ loaded: [] }> {
  readonly #knex: Knex;
  readonly #states: PreparedStates;
  readonly #session: DatabaseSession;
  readonly #logger: Logger;
  readonly #decideBy: DecideBy;
  #loading: Promise<void> | undefined;
  #again = false;
  #timer: NodeJS.Timeout | undefined;
  #closed = false;

  constructor(parts: {
    knex: Knex;
    states: PreparedStates;
    session: DatabaseSession;
    logger: Logger;
    decideBy: DecideBy;
  }) {
    super();
    this.#knex = parts.knex;
    this.#states = parts.states;
    this.#session = parts.session;
    this.#logger = parts.logger;
    this.#decideBy = parts.decideBy;
  }

  open(): void {
    this.#session.on('notification', (notification) => notification.type === 'published' && this.#load());
    // Notifications were missed while the session was away.
    this.#session.on('connected', () => this.#load());
    this.#load();
  }

  /** Has it decided by once more. */
  async reload(): Promise<void> {
    this.#load();
    await this.#loading;
  }

  /** Until what was published when it was opened is decided by, or could not be loaded. */
  async looked(): Promise<void> {
    await this.#loading;
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#timer);
    await this.#loading;
  }

  /** Loads what is published, one load after the other; what is published during one is loaded behind it. */
  #load(): void {
    if (this.#closed) return;
    this.#again = true;
    this.#loading ??= this.#loadAll().finally(() => {
      this.#loading = undefined;
    });
  }

  async #loadAll(): Promise<void> {
    while (this.#again && !this.#closed) {
      this.#again = false;
      try {
        await this.#loadOnce();
      } catch (error) {
        this.#logger.warn({ err: error }, 'the published rules could not be loaded; those before stay in force');
        this.#wait(AGAIN_MS);
      }
    }
  }

  async #loadOnce(): Promise<void> {
    const revision = await publishedRevision(this.#knex);
    if (!revision) return;
    const now = new Date();
    const prepared = await this.#states.get(await revisionState(this.#knex, revision, now));
    await this.#decideBy(revision.number, prepared);
    this.emit('loaded');
    const next = nextExpiry(prepared.workspace, now.getTime());
    if (next !== undefined) this.#wait(next - Date.now() + 1);
  }

  #wait(ms: number): void {
    clearTimeout(this.#timer);
    if (this.#closed) return;
    this.#timer = setTimeout(() => this.#load(), Math.min(Math.max(ms, 1), LONGEST_WAIT_MS));
    this.#timer.unref();
  }
}
