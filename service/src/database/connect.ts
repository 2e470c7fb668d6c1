import knexPackage, { type Knex } from 'knex';
import { knexSnakeCaseMappers } from 'objection';
import pg from 'pg';
import { startError } from '../start-error.js';
import { isDatabaseLost } from './faults.js';
import { handOver } from './hand-over.js';
import { startManagedServer, type Warn } from './managed/cluster.js';
import { migrationSource } from './migrations/index.js';

// Counts and sizes come as 64-bit integers; none of ours passes 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** The database that a service works on, and how to let go of it. */
export interface Database {
  readonly knex: Knex;
  /** A few connections of their own for what must not wait: who calls, and whether the service is ready. */
  readonly urgent: Knex;
  /** How to connect once more, outside the pool. */
  readonly connection: Connection;
  close(): Promise<void>;
}

export interface DatabaseOptions {
  readonly databaseUrl: string | undefined;
  /** Who owns the tables, where the service itself is to own nothing of the audit. */
  readonly databaseOwnerUrl: string | undefined;
  readonly dataDir: string;
  readonly root: boolean;
  readonly path: string;
  readonly warn: Warn;
}

/** The role that the service runs as in a database of its own. */
const SERVICE_ROLE = 'jade_fence_service';
const POOL = 10;
const URGENT_POOL = 3;
const LOCK_MS = 10_000;
const IDLE_MS = 60_000;
/** Of what must not wait. */
const URGENT_MS = 5_000;

/** Connects to the given database, or to a managed one that is started for it, and brings its tables up to date. */
export async function openDatabase(options: DatabaseOptions): Promise<Database> {
  const { databaseUrl, databaseOwnerUrl } = options;
  if (databaseUrl !== undefined) {
    const connection = { connectionString: databaseUrl };
    if (databaseOwnerUrl === undefined) await bringUpToDate(connection, undefined);
    else await bringUpToDate({ connectionString: databaseOwnerUrl }, await roleOf(connection));
    return opened(connection, async () => undefined);
  }
  const server = await startManagedServer(options, options.warn);
  try {
    const owner = { host: server.socketDir, user: server.user, database: 'postgres' };
    await bringUpToDate(owner, SERVICE_ROLE);
    return opened({ ...owner, user: SERVICE_ROLE }, () => server.stop());
  } catch (error) {
    await server.stop();
    throw error;
  }
}

function opened(connection: Connection, stop: () => Promise<void>): Database {
  const pools = openPools(connection, POOL);
  return {
    ...pools,
    connection,
    close: async () => {
      await pools.close();
      await stop();
    },
  };
}

/** Connections to a database that is up to date: at most this many, and a few for calls that must not wait. */
export function openPools(connection: Connection, most: number): Omit<Database, 'connection'> {
  const knex = pooled(connection, most, `lock_timeout=${LOCK_MS} idle_in_transaction_session_timeout=${IDLE_MS}`);
  const urgent = pooled(connection, URGENT_POOL, `lock_timeout=${URGENT_MS} statement_timeout=${URGENT_MS}`);
  const close = async () => {
    await Promise.all([knex.destroy(), urgent.destroy()]);
  };
  return { knex, urgent, close };
}

/** A way to ask a database that is away, for whoever finds out that way. A managed one has no address while it is. */
export const awayDatabase = (databaseUrl: string | undefined): Knex =>
  pooled({ connectionString: databaseUrl ?? 'postgres:///?host=/nonexistent' }, 1, `lock_timeout=${URGENT_MS}`);

/** How to connect. Plain data. */
export type Connection = pg.ClientConfig & Knex.PgConnectionConfig;

/** Errors are thrown to the caller, and reported there. */
const SILENT = { warn: () => undefined, error: () => undefined, deprecate: () => undefined, debug: () => undefined };

/** A pool of connections, each with these settings of the server, as `name=value` parted by blanks. */
function pooled(connection: Connection, max: number, settings: string): Knex {
  const set = settings
    .split(' ')
    .map((each) => each.replace('=', ' = '))
    .map((each) => `set ${each}`)
    .join('; ');
  return knexPackage({
    client: 'pg',
    connection,
    pool: {
      min: 0,
      max,
      afterCreate: (client: pg.Client, done: (error: Error | null, client: pg.Client) => void) => {
        client.query(set, (error) => done(error, client));
      },
    },
    log: SILENT,
    ...knexSnakeCaseMappers(),
  });
}

/** Runs what migrations are missing, as the owner; then gives all but the audit to the role, where there is one. */
async function bringUpToDate(connection: Connection, role: string | undefined): Promise<void> {
  const knex = knexPackage({
    client: 'pg',
    connection,
    pool: { min: 0, max: 2 },
    log: SILENT,
    ...knexSnakeCaseMappers(),
  });
  try {
    if (role === SERVICE_ROLE) await makeRole(knex, role);
    await knex.migrate.latest({ migrationSource });
    if (role !== undefined) await handOver(knex, role);
  } catch (error) {
    throw startError('database/brought-up-to-date', { message: (error as Error).message }, isDatabaseLost(error));
  } finally {
    await knex.destroy();
  }
}

async function makeRole(knex: Knex, role: string): Promise<void> {
  const { rows } = await knex.raw('select 1 from pg_roles where rolname = ?', [role]);
  if (rows.length === 0) await knex.raw('create role ?? login', [role]);
}

async function roleOf(connection: Connection): Promise<string> {
  const client = new pg.Client(connection);
  try {
    await client.connect();
    return (await client.query('select current_user as role')).rows[0].role as string;
  } catch (error) {
    throw startError('database/reached', { message: (error as Error).message }, isDatabaseLost(error));
  } finally {
    await client.end().catch(() => undefined);
  }
}
