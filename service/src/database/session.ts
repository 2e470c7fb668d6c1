import { EventEmitter } from 'node:events';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Knex } from 'knex';
import pg from 'pg';
import { JOB_KINDS, type JobKind } from '../model/job.js';

const CHANNEL = 'jade_fence';
const AGAIN_MS = 500;

interface Events {
  /** Another session, or this one, has sent a notification. */
  notification: [message: Notification];
  /** The session is connected, for the first time or again; earlier notifications were missed. */
  connected: [];
  /** The session is gone, and with it its name. */
  lost: [];
}

/** The notifications between services on one database. */
export type Notification =
  | { readonly type: 'jobs' }
  | { readonly type: 'progress' | 'cancel'; readonly kind: JobKind; readonly id: number }
  | { readonly type: 'published'; readonly revision: number }
  /** Answers for hosts were added. */
  | { readonly type: 'resolutions'; readonly load: number }
  /** A passcode or the key of grants was set. */
  | { readonly type: 'grants' };

/** What a notification says. Whoever may connect to the database can send any; what is none of ours is passed over. */
export function notificationIn(payload: string | undefined): Notification | undefined {
  let value: unknown;
  try {
    value = JSON.parse(payload ?? '');
  } catch {
    return undefined;
  }
  const { type, kind, id, revision, load } = (value ?? {}) as Record<string, unknown>;
  if (type === 'jobs' || type === 'grants') return { type };
  if (type === 'published') return isNumber(revision) ? { type, revision } : undefined;
  if (type === 'resolutions') return isNumber(load) ? { type, load } : undefined;
  const isJob = (type === 'progress' || type === 'cancel') && (JOB_KINDS as readonly unknown[]).includes(kind);
  return isJob && isNumber(id) ? { type, kind: kind as JobKind, id } : undefined;
}

const isNumber = (value: unknown): value is number => Number.isSafeInteger(value);

/**
 * A service's own connection to the database, by which it receives the notifications of the others, and by which they
 * know whether it is still there: the database ends it with the service, however that ends.
 */
export class DatabaseSession extends EventEmitter<Events> {
  readonly #connection: pg.ClientConfig;
  #client: pg.Client | undefined;
  #name: string | undefined;
  #closed = false;

  constructor(connection: pg.ClientConfig) {
    super();
    this.setMaxListeners(0);
    this.#connection = connection;
  }

  /** The name of the session, which no other has at any time; undefined while it is not there. */
  get name(): string | undefined {
    return this.#name;
  }

  async open(): Promise<void> {
    const client = new pg.Client({ ...this.#connection, keepAlive: true });
    // An error of the connection is followed by its end.
    client.on('error', () => undefined);
    client.on('notification', ({ payload }) => {
      const notification = notificationIn(payload);
      if (notification) this.emit('notification', notification);
    });
    try {
      await client.connect();
      const { rows } = await client.query(`select ${NAME} as name from pg_stat_activity where pid = pg_backend_pid()`);
      await client.query(`listen ${CHANNEL}`);
      if (this.#closed) throw new Error('the session was closed');
      this.#name = (rows[0] as { name: string }).name;
    } catch (error) {
      await client.end().catch(() => undefined);
      throw error;
    }
    this.#client = client;
    client.on('end', () => void this.#reopen());
    this.emit('connected');
  }

  async close(): Promise<void> {
    this.#closed = true;
    await this.#client?.end().catch(() => undefined);
  }

  async #reopen(): Promise<void> {
    this.#client = undefined;
    this.#name = undefined;
    if (this.#closed) return;
    this.emit('lost');
    while (!this.#closed) {
      try {
        return await this.open();
      } catch {
        await sleep(AGAIN_MS);
      }
    }
  }
}

/** A process number alone comes again; with the instant of its start it does not. */
const NAME = "pid || '@' || extract(epoch from backend_start)";

/**
 * A condition of a query: that no session has the name in the column. Sessions of other users do not show theirs to a
 * plain user, and ours are never among those.
 */
export const noSession = (column: string): string =>
  `not exists (select 1 from pg_stat_activity where ${NAME} = ${column})`;

/** Sends a message to all services of this database, when the transaction is committed. */
export async function notify(knex: Knex, message: Notification): Promise<void> {
  await knex.raw('select pg_notify(?, ?)', [CHANNEL, JSON.stringify(message)]);
}
