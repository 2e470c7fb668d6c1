import { createHmac } from 'node:crypto';
import { type IncomingMessage, request as requestPlain } from 'node:http';
import { request as requestSecure } from 'node:https';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { WaitingAlert } from '../model/waiting-alert.js';
import { isPrivateAddress, lookUpPublic, PrivateTarget } from '../outgoing/public-only.js';
import { secretOf } from '../setting/secret.js';
import { currentSettings } from '../setting/settings.js';

const TIMEOUT_MS = 5000;
const LOOK_MS = 1000;
const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 3_600_000;
const KEPT_MS = 7 * 86_400_000;
/** This many alerts are sent together, and this many bodies wait at most; beyond that they are counted. */
const MOST_AT_ONCE = 100;
const MOST_WAITING = 10_000;
const SECRET = 'alerts';

/** A decision of a rule with `record: alert`. */
export interface Alert {
  readonly at: Date;
  readonly revision: number;
  readonly policy: string | null;
  readonly rule: string | null;
  readonly verdict: string;
  /** The request as it is recorded, with its client and country. */
  readonly shown: object;
}

/** The secret that alerts are signed with; made at its first use. */
export const alertSecret = (knex: Knex): Promise<Buffer> => secretOf(knex, SECRET);

/**
 * Sends alerts to the address that administrators chose. They wait in the database until they are taken, a week at most,
 * whichever service raised them; each is signed and timed (Standard Webhooks: `webhook-id`, `-timestamp`, `-signature`).
 */
export class Alerts {
  readonly #knex: Knex;
  readonly #logger: Logger;
  readonly #closing = new AbortController();
  #timer: NodeJS.Timeout | undefined;
  #sending: Promise<void> | undefined;

  constructor(knex: Knex, logger: Logger) {
    this.#knex = knex;
    this.#logger = logger;
  }

  open(): void {
    this.#timer = setInterval(() => this.#look(), LOOK_MS);
    this.#timer.unref();
  }

  /** Keeps alerts to be sent; beyond the most at once they are counted. */
  async raise(alerts: readonly Alert[]): Promise<void> {
    if (alerts.length === 0) return;
    const { alertUrl } = await currentSettings(this.#knex);
    if (alertUrl === null) return;
    const sent = alerts.slice(0, MOST_AT_ONCE).map(({ shown, ...alert }) => ({ ...alert, ...shown }));
    const body = { alerts: sent, more: alerts.length - sent.length };
    if ((await WaitingAlert.query(this.#knex).resultSize()) >= MOST_WAITING) {
      this.#logger.warn({ alerts: alerts.length }, 'alerts were dropped, since too many wait to be taken');
      return;
    }
    await WaitingAlert.query(this.#knex).insert({ body });
    this.#look();
  }

  /** Ends what is being sent; it is sent again later. */
  async close(): Promise<void> {
    clearInterval(this.#timer);
    this.#closing.abort();
    await this.#sending;
  }

  #look(): void {
    if (this.#closing.signal.aborted) return;
    this.#sending ??= this.#sendDue()
      .catch((error) => this.#logger.warn({ err: error }, 'alerts could not be looked at'))
      .finally(() => {
        this.#sending = undefined;
      });
  }

  async #sendDue(): Promise<void> {
    while (!this.#closing.signal.aborted && (await this.#sendOne()));
  }

  /** Sends the alerts that are due first; answers whether there were any. */
  async #sendOne(): Promise<boolean> {
    const due = await this.#take();
    if (!due) return false;
    const { alertUrl, alertPrivate } = await currentSettings(this.#knex);
    try {
      if (alertUrl !== null) await this.#send(due, new URL(alertUrl), alertPrivate);
      await WaitingAlert.query(this.#knex).deleteById(due.id);
    } catch (error) {
      const isOver = due.raisedAt.getTime() < Date.now() - KEPT_MS;
      this.#logger.warn({ err: error, alerts: due.id, isOver }, 'alerts were not taken');
      if (isOver) await WaitingAlert.query(this.#knex).deleteById(due.id);
    }
    return true;
  }

  /** Takes one that is due, so that no other service does; it is due again later, unless it is deleted. */
  async #take(): Promise<WaitingAlert | undefined> {
    return this.#knex.transaction(async (trx) => {
      const due = await WaitingAlert.query(trx)
        .where('nextAt', '<=', trx.raw('now()'))
        .orderBy('nextAt')
        .first()
        .forUpdate()
        .skipLocked();
      if (!due) return undefined;
      const wait = Math.min(FIRST_WAIT_MS * 2 ** due.attempts, LONGEST_WAIT_MS);
      await WaitingAlert.query(trx)
        .findById(due.id)
        .patch({ attempts: due.attempts + 1, nextAt: trx.raw("now() + ? * interval '1 millisecond'", [wait]) });
      return due;
    });
  }

  async #send({ id, body }: WaitingAlert, url: URL, allowPrivate: boolean): Promise<void> {
    if (!allowPrivate && isPrivateAddress(url.hostname)) throw new PrivateTarget(url.hostname);
    const text = JSON.stringify(body);
    const timestamp = String(Math.floor(Date.now() / 1000));
    const secret = await alertSecret(this.#knex);
    const signature = createHmac('sha256', secret).update(`${id}.${timestamp}.${text}`).digest('base64');
    const headers = {
      'content-type': 'application/json',
      'content-length': String(Buffer.byteLength(text)),
      'webhook-id': String(id),
      'webhook-timestamp': timestamp,
      'webhook-signature': `v1,${signature}`,
    };
    const signal = AbortSignal.any([AbortSignal.timeout(TIMEOUT_MS), this.#closing.signal]);
    const options = {
      method: 'POST',
      headers,
      signal,
      agent: false,
      ...(allowPrivate ? {} : { lookup: lookUpPublic }),
    };
    const status = await new Promise<number>((resolve, reject) => {
      const send = url.protocol === 'https:' ? requestSecure : requestPlain;
      const call = send(url, options, (response: IncomingMessage) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      });
      call.once('error', reject);
      call.end(text);
    });
    if (status < 200 || status > 299) throw new Error(`the address answered with status ${status}`);
  }
}
