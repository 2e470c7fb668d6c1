import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { startError } from '../../start-error.js';
import { clusterVersion, findPostgres } from './binaries.js';
import { giveTo, type Owner, serverOwner } from './owner.js';

/** A PostgreSQL server of our own, reachable through a private socket only. */
export interface ManagedServer {
  /** The folder of its socket, which is also the host to connect to. */
  readonly socketDir: string;
  readonly user: string;
  /** Stops it, and returns when it has stopped. */
  stop(): Promise<void>;
}

/** Tells the operator of what happened without anybody having asked. */
export type Warn = (what: string) => void;

const USER = 'jade_fence';
const START_MS = 60_000;
const FREE_MS = 6_000;
const AGAIN_MS = 200;
const LONGEST_AGAIN_MS = 5_000;
/** A path of a Unix socket has at most 107 bytes, of which the socket's own name takes 20. */
const LONGEST_SOCKET_DIR = 85;

/**
 * Stands between us and the server: when we are gone, however that came about, its input ends and it stops the server;
 * and it ends when the server does.
 * So a killed service leaves nothing running, and the data as after any crash of a client.
 */
const KEEPER = [
  'exec 3<&0',
  '"$@" </dev/null 3<&- & server=$!',
  '(cat <&3 >/dev/null; kill -INT $server 2>/dev/null) &',
  'exec 3<&-',
  'wait $server',
].join('\n');

/** Starts the server over the data in `dataDir`, making it first where there is none. */
export async function startManagedServer(
  { dataDir, root, path }: { readonly dataDir: string; readonly root: boolean; readonly path: string },
  warn: Warn = () => undefined,
): Promise<ManagedServer> {
  const cluster = join(dataDir, 'postgres');
  const bin = findPostgres(path, clusterVersion(cluster));
  const owner = serverOwner(root);
  // Root keeps the folder itself, with the access key in it, and lets the server's user only pass through.
  makeFolder(dataDir, {}, root ? 0o711 : 0o700);
  await waitUntilFree(cluster);
  if (!existsSync(join(cluster, 'PG_VERSION'))) initialise(bin, cluster, owner);
  const socketDir = makeSocketDir(dataDir, owner);
  const start = async () => {
    const server = launch(bin, cluster, socketDir, owner);
    const output = gather(server);
    await ready(bin, socketDir, server, output);
    return server;
  };
  const watched = new WatchedServer(await start(), start, warn);
  return {
    socketDir,
    user: USER,
    stop: async () => {
      await watched.stop();
      if (socketDir.startsWith(tmpdir())) rmSync(socketDir, { recursive: true, force: true });
    },
  };
}

/** A server that is started again where it ends without having been asked to. What it had committed is there again. */
class WatchedServer {
  readonly #start: () => Promise<ChildProcess>;
  #server: ChildProcess;
  readonly #warn: Warn;
  #stopping = false;

  constructor(server: ChildProcess, start: () => Promise<ChildProcess>, warn: Warn) {
    this.#server = server;
    this.#start = start;
    this.#warn = warn;
    server.once('exit', () => void this.#startAgain());
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    const server = this.#server;
    if (server.exitCode !== null || server.signalCode !== null) return;
    const gone = new Promise((resolve) => server.once('exit', resolve));
    server.stdin?.end();
    await gone;
  }

  async #startAgain(): Promise<void> {
    if (!this.#stopping) this.#warn('PostgreSQL ended without having been asked to, and is started again.');
    for (let wait = AGAIN_MS; !this.#stopping; wait = Math.min(wait * 2, LONGEST_AGAIN_MS)) {
      // Processes of the old server may still have its memory.
      await sleep(wait);
      try {
        const server = await this.#start();
        this.#server = server;
        if (this.#stopping) return void server.stdin?.end();
        server.once('exit', () => void this.#startAgain());
        return;
      } catch (error) {
        // It is tried again; until then the service answers that the database is away.
        this.#warn((error as Error).message);
      }
    }
  }
}

function makeFolder(folder: string, owner: Owner, mode: number): void {
  try {
    mkdirSync(dirname(folder), { recursive: true });
    if (!existsSync(folder)) mkdirSync(folder, { mode });
    giveTo(owner, folder);
  } catch (error) {
    throw startError('data-folder', { message: (error as Error).message });
  }
}

/** A server that a killed service left is about to stop by itself; one that goes on belongs to a running service. */
export async function waitUntilFree(cluster: string): Promise<void> {
  for (const end = Date.now() + FREE_MS; Date.now() < end; await sleep(200)) if (!isRunning(cluster)) return;
  throw startError('data-in-use', { cluster });
}

function isRunning(cluster: string): boolean {
  const pidFile = join(cluster, 'postmaster.pid');
  if (!existsSync(pidFile)) return false;
  const pid = Number(readFileSync(pidFile, 'utf8').split('\n', 1)[0]);
  try {
    // After a restart of the machine the number may be another program's.
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres');
  } catch {
    return false;
  }
}

/** Makes an empty cluster in the folder, in place of what is there. Throws `StartError` where `initdb` fails. */
export function initialise(bin: string, cluster: string, owner: Owner): void {
  // A first start that was killed half-way leaves a cluster without its version file, and no data.
  rmSync(cluster, { recursive: true, force: true });
  makeFolder(cluster, owner, 0o700);
  const args = ['-D', cluster, '-U', USER, '--auth=trust', '--encoding=UTF8', '--locale=C.UTF-8', '--no-instructions'];
  const made = spawnSync(join(bin, 'initdb'), args, { ...owner, cwd: '/', encoding: 'utf8' });
  if (made.status === 0) return;
  rmSync(cluster, { recursive: true, force: true });
  throw startError('data-folder/made', { cluster, reason: lastLine(made.stderr || made.error?.message || '') });
}

function makeSocketDir(dataDir: string, owner: Owner): string {
  const own = join(dataDir, 'socket');
  const short = Buffer.byteLength(own) <= LONGEST_SOCKET_DIR;
  if (!short) {
    const temporary = mkdtempSync(join(tmpdir(), 'jade-fence-'));
    giveTo(owner, temporary);
    return temporary;
  }
  makeFolder(own, owner, 0o700);
  return own;
}

function launch(bin: string, cluster: string, socketDir: string, owner: Owner): ChildProcess {
  const settings = [
    ['listen_addresses', ''],
    ['unix_socket_directories', socketDir],
    ['unix_socket_permissions', '0700'],
    ['max_connections', '100'],
  ].flatMap(([name, value]) => ['-c', `${name}=${value}`]);
  const args = ['-c', KEEPER, 'keeper', join(bin, 'postgres'), '-D', cluster, ...settings];
  return spawn('/bin/sh', args, { ...owner, cwd: '/', detached: true, stdio: ['pipe', 'ignore', 'pipe'] });
}

function gather(server: ChildProcess): () => string {
  let output = '';
  server.stderr?.on('data', (piece: Buffer) => {
    output = (output + piece.toString()).slice(-4000);
  });
  return () => output;
}

async function ready(bin: string, socketDir: string, server: ChildProcess, output: () => string): Promise<void> {
  for (const end = Date.now() + START_MS; Date.now() < end; await sleep(100)) {
    if (server.exitCode !== null) break;
    const asked = spawnSync(join(bin, 'pg_isready'), ['-q', '-h', socketDir, '-d', 'postgres', '-U', USER]);
    if (asked.status === 0) return;
  }
  server.stdin?.end();
  const reason = /FATAL:\s*(?!the database system is starting up)(.*)/.exec(output())?.[1] ?? lastLine(output());
  throw startError('database', { reason });
}

const lastLine = (text: string): string => text.trim().split('\n').at(-1) ?? '';
