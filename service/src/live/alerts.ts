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
  #sending: Promise<void> = Promise.resolve();

  constructor(knex: Knex, logger: Logger) {
    this.#knex = knex;
    this.#logger = logger;
  }

  raise(alerts: readonly Alert[]): void {
    if (alerts.length === 0) return;
    this.#sending = this.#sending
      .then(() => this.#send(alerts))
      .catch((error) => {
        this.#logger.warn({ err: error }, 'alerts could not be sent');
      });
  }

  async close(): Promise<void> {
    await this.#sending;
  }

  async #send(alerts: readonly Alert[]): Promise<void> {
    const { alertUrl } = await currentSettings(this.#knex);
    if (alertUrl === null) return;
    const body = JSON.stringify({
      alerts: alerts.slice(0, MOST_AT_ONCE),
      more: Math.max(0, alerts.length - MOST_AT_ONCE),
    });
    for (let attempt = 1; ; attempt++) {
      const sent = await fetch(alertUrl, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
        redirect: 'error',
        signal: AbortSignal.timeout(TIMEOUT_MS),
      }).catch((error: Error) => error);
      if (sent instanceof Response && sent.ok) return;
      const why = sent instanceof Response ? `status ${sent.status}` : sent.message;
      if (attempt === ATTEMPTS) throw new Error(`${alerts.length} alerts were not taken: ${why}`);
      await new Promise((again) => setTimeout(again, AGAIN_MS).unref());
    }
  }
}
