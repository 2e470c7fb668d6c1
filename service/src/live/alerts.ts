import { setTimeout as sleep } from 'node:timers/promises';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { currentSettings } from '../setting/settings.js';

const TIMEOUT_MS = 5000;
const ATTEMPTS = 3;
const AGAIN_MS = 1000;
const MOST_AT_ONCE = 100;

/** A decision of a rule with `record: alert`. */
export interface Alert {
  readonly at: Date;
  readonly revision: number;
  readonly policy: string | null;
  readonly rule: string | null;
  readonly verdict: string;
  readonly told: unknown;
}

/** Sends alerts to the address that administrators chose, some at a time; what cannot be sent is written down. */
export class Alerts {
  readonly #knex: Knex;
  readonly #logger: Logger;
  readonly #closing = new AbortController();
  #waiting: Alert[] = [];
  /** How many were too many to be sent one by one. */
  #more = 0;
  #sending: Promise<void> | undefined;

  constructor(knex: Knex, logger: Logger) {
    this.#knex = knex;
    this.#logger = logger;
  }

  /** Takes alerts to be sent; beyond the most at once they are counted, however slow the one is who takes them. */
  raise(alerts: readonly Alert[]): void {
    const room = MOST_AT_ONCE - this.#waiting.length;
    this.#waiting.push(...alerts.slice(0, room));
    this.#more += Math.max(0, alerts.length - room);
    if (this.#waiting.length > 0) this.#sending ??= this.#sendAll().finally(() => (this.#sending = undefined));
  }

  /** Ends what is being sent. */
  async close(): Promise<void> {
    this.#closing.abort();
    await this.#sending;
  }

  async #sendAll(): Promise<void> {
    while (this.#waiting.length > 0 && !this.#closing.signal.aborted) {
      const body = { alerts: this.#waiting, more: this.#more };
      this.#waiting = [];
      this.#more = 0;
      await this.#send(JSON.stringify(body)).catch((error) => {
        this.#logger.warn({ err: error, alerts: body.alerts.length + body.more }, 'alerts could not be sent');
      });
    }
  }

  async #send(body: string): Promise<void> {
    const { alertUrl } = await currentSettings(this.#knex);
    if (alertUrl === null) return;
    for (let attempt = 1; ; attempt++) {
      const sent = await fetch(alertUrl, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
        redirect: 'error',
        signal: AbortSignal.any([AbortSignal.timeout(TIMEOUT_MS), this.#closing.signal]),
      }).catch((error: Error) => error);
      if (sent instanceof Response && sent.ok) return;
      const why = sent instanceof Response ? `status ${sent.status}` : sent.message;
      if (attempt === ATTEMPTS || this.#closing.signal.aborted) throw new Error(`they were not taken: ${why}`);
      await sleep(AGAIN_MS, undefined, { signal: this.#closing.signal }).catch(() => undefined);
    }
  }
}
