import knexPackage, { type Knex } from 'knex';
import { knexSnakeCaseMappers } from 'objection';
import pg from 'pg';
import { StartError } from '../start-error.js';
import { startManagedServer, type Warn } from './managed/cluster.js';
import { migrationSource } from './migrations/index.js';

// Counts and sizes come as 64-bit integers; none of ours passes 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** The database that a service works on, and how to let go of it. */
export interface Database {
  readonly knex: Knex;
  /** How to connect once more, outside the pool. */
  readonly connection: pg.ClientConfig;
  close(): Promise<void>;
}

export interface DatabaseOptions {
  readonly databaseUrl: string | undefined;
  readonly dataDir: string;
  readonly root: boolean;
  readonly path: string;
  readonly warn: Warn;
}

/** Connects to the given database, or to a managed one that is started for it, and brings its tables up to date. */
export async function openDatabase(options: DatabaseOptions): Promise<Database> {
  if (options.databaseUrl !== undefined) {
    const connection = { connectionString: options.databaseUrl };
    const knex = await connect(connection);
    return { knex, connection, close: () => knex.destroy() };
  }
  const server = await startManagedServer(options, options.warn);
  try {
    const connection = { host: server.socketDir, user: server.user, database: 'postgres' };
    const knex = await connect(connection);
    return {
      knex,
      connection,
      close: async () => {
        await knex.destroy();
        await server.stop();
      },
    };
  } catch (error) {
    await server.stop();
    throw error;
  }
}

/** What goes wrong is thrown to who asked, and told there. */
const SILENT = { warn: () => undefined, error: () => undefined, deprecate: () => undefined, debug: () => undefined };

async function connect(connection: pg.ClientConfig & Knex.PgConnectionConfig): Promise<Knex> {
  const knex = knexPackage({
    client: 'pg',
    connection,
    pool: { min: 0, max: 10 },
    log: SILENT,
    ...knexSnakeCaseMappers(),
  });
  try {
    await knex.migrate.latest({ migrationSource });
    return knex;
  } catch (error) {
    await knex.destroy();
    throw new StartError(
      'database',
      `The database cannot be used: ${(error as Error).message}`,
      'See that DATABASE_URL is right and its user may make tables.',
    );
  }
}
