import { availableParallelism, homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** How a service is to run. */
export interface ServeOptions {
  /** The address to listen on. Default 127.0.0.1: other machines cannot reach it. */
  readonly host: string;
  /** The TCP port; 0 takes any free one. Default 7440. */
  readonly port: number;
  /** Where gateways ask for decisions: a listener of its own. Default 127.0.0.1 and 7441. */
  readonly gateHost: string;
  readonly gatePort: number;
  /** The proxies in front whose `X-Forwarded-For` and `-Proto` are believed. Default none. */
  readonly trustProxy: readonly string[];
  /** Where browsers reach the service. Default: as they call it. */
  readonly publicUrl: string | undefined;
  /** Where the managed database and the access key are kept. */
  readonly dataDir: string;
  /** An existing database to use instead of a managed one, as a PostgreSQL URL. */
  readonly databaseUrl: string | undefined;
  /** Who owns the tables of that database, where the service is to own nothing of the audit, as a PostgreSQL URL. */
  readonly databaseOwnerUrl: string | undefined;
  /** An upload is ended after this many milliseconds without a byte. Default a minute. */
  readonly uploadIdle: number;
  /** The largest upload, in bytes. Default 1 GiB. */
  readonly maxUpload: number;
  /** How many threads read and judge logs. Default as many as the machine has cores. */
  readonly workers: number;
  /** Least severity of what is logged to standard error. Default `info`. */
  readonly logLevel: string;
  /** Replaces the access key by a new one at the start. */
  readonly newKey: boolean;
  /** The built console; nothing is served where the folder does not exist. */
  readonly consoleDir: string;
}

const GIB = 1024 ** 3;

/** The options with every default filled in. `env` and `root` are the process's, passed in for tests. */
export function completeOptions(given: Partial<ServeOptions>, env: NodeJS.ProcessEnv, root: boolean): ServeOptions {
  return {
    host: given.host ?? '127.0.0.1',
    port: given.port ?? 7440,
    gateHost: given.gateHost ?? '127.0.0.1',
    gatePort: given.gatePort ?? 7441,
    trustProxy: given.trustProxy ?? [],
    publicUrl: given.publicUrl,
    dataDir: given.dataDir ?? defaultDataDir(env, root),
    databaseUrl: given.databaseUrl ?? (env.DATABASE_URL || undefined),
    databaseOwnerUrl: given.databaseOwnerUrl ?? (env.DATABASE_OWNER_URL || undefined),
    uploadIdle: given.uploadIdle ?? 60_000,
    maxUpload: given.maxUpload ?? GIB,
    workers: given.workers ?? availableParallelism(),
    logLevel: given.logLevel ?? 'info',
    newKey: given.newKey ?? false,
    consoleDir: given.consoleDir ?? fileURLToPath(new URL('../../console/dist/app', import.meta.url)),
  };
}

/**
 * The user's data folder by the XDG base directories. Root's home is closed to the `postgres` user that the managed
 * server runs as then, so root's data is kept where a system service keeps it.
 */
export function defaultDataDir(env: NodeJS.ProcessEnv, root: boolean): string {
  if (env.XDG_DATA_HOME) return join(env.XDG_DATA_HOME, 'jade-fence');
  return root ? '/var/lib/jade-fence' : join(env.HOME ?? homedir(), '.local', 'share', 'jade-fence');
}

/** The file that holds the access key. */
export const keyFile = (dataDir: string): string => join(dataDir, 'access-key');

/** Where files are put that lists are refreshed from. */
export const feedFolder = (dataDir: string): string => join(dataDir, 'feeds');
