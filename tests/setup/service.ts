import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { inject } from 'vitest';
import { holdToContract } from './answers.js';

export const CLIENT = new URL('../../cli/bin/jade-fence.js', import.meta.url).pathname;
export const DEMO = new URL('../../demo/', import.meta.url).pathname;
const USER = 'jade_fence';

/** What a run of the client gave. */
export interface Ran {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** An answer of the API. */
export interface Answer {
  readonly status: number;
  readonly type: string;
  // biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
  readonly body: any;
}

/** A service that a test has to itself, with the ways to talk to it. */
export interface TestService {
  readonly url: string;
  /** Where gateways ask. */
  readonly gateUrl: string;
  readonly key: string;
  readonly folder: string;
  readonly process: ChildProcess;
  /** Runs the command-line client against it. */
  client(...args: readonly string[]): Promise<Ran>;
  /** Calls its API with the access key. */
  call(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<Answer>;
  /** Asks for live decisions, with the token of a gateway. */
  ask(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<Answer>;
  /** The token of a gateway; made on first use. */
  gatewayToken(): Promise<string>;
  stop(): Promise<void>;
}

let databases = 0;
let gates = 0;

/** The URL of a new database on the shared server, empty unless it is to be like another; of a plain user's on request. */
export async function newDatabase(
  owner: 'administrator' | 'plain user' = 'administrator',
  template = 'template1',
): Promise<string> {
  const socketDir = inject('socketDir');
  const name = `test_${process.pid}_${++databases}`;
  const user = owner === 'plain user' ? `user_${name}` : USER;
  const admin = new pg.Client({ host: socketDir, user: USER, database: 'postgres' });
  await admin.connect();
  if (user !== USER) await admin.query(`create role ${user} login`);
  await admin.query(`create database ${name} owner ${user} template ${template}`);
  await admin.end();
  return `postgres://${user}@/${name}?host=${encodeURIComponent(socketDir)}`;
}

/** Asks the database of a URL itself. */
// biome-ignore lint/suspicious/noExplicitAny: tests look into rows of every shape
export async function queryDatabase(url: string, sql: string): Promise<any[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query(sql)).rows;
  } finally {
    await client.end();
  }
}

/** Starts the service, as its users do, on a free port and a database of its own. */
export const startService = (args: readonly string[] = []): Promise<TestService & { readonly database: string }> =>
  start(args);

async function start(
  args: readonly string[],
  template?: Template,
): Promise<TestService & { readonly database: string }> {
  const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
  const database = await newDatabase('administrator', template?.database);
  if (template) writeFileSync(join(folder, 'access-key'), `${template.key}\n`, { mode: 0o600 });
  const env = { ...process.env, DATABASE_URL: database, NO_COLOR: '1' };
  const service = await launch(['--port', '0', '--data-dir', folder, ...args], env);
  const stop = async () => {
    await service.stop();
    rmSync(folder, { recursive: true, force: true });
  };
  return { ...service, folder, database, stop };
}

/** Starts `jade-fence service run` and waits until it says where it is. */
export async function launch(args: readonly string[], env: NodeJS.ProcessEnv): Promise<Omit<TestService, 'folder'>> {
  const child = spawn(
    process.execPath,
    [CLIENT, 'service', 'run', '--log-level', 'error', '--gate-port', '0', '--stop-with-input', ...args],
    {
      env,
      // Its input is open as long as this process runs: it ends with the tests, however these end.
      stdio: ['pipe', 'pipe', 'inherit'],
    },
  );
  const { url, gateUrl, keyFile } = await shown(child);
  const key = readFileSync(keyFile, 'utf8').trim();
  const call: TestService['call'] = (method, path, body, headers) =>
    callApi(url, method, path, body, { authorization: `Bearer ${key}`, ...headers });
  let token: Promise<string> | undefined;
  const gatewayToken = () => {
    token ??= call('POST', '/api/v1/tokens', { name: `gate-${process.pid}-${++gates}`, kind: 'gateway' }).then(
      ({ body }) => body.secret as string,
    );
    return token;
  };
  return {
    url,
    gateUrl,
    key,
    process: child,
    gatewayToken,
    ask: async (method, path, body, headers) =>
      callApi(gateUrl, method, path, body, { authorization: `Bearer ${await gatewayToken()}`, ...headers }),
    client: (...given) => runClient(['--service', url, '--key-file', keyFile, ...given]),
    call,
    stop: async () => {
      if (child.exitCode !== null || child.signalCode !== null) return;
      child.kill('SIGTERM');
      await once(child, 'exit');
    },
  };
}

async function shown(child: ChildProcess): Promise<{ url: string; gateUrl: string; keyFile: string }> {
  let url: string | undefined;
  let gateUrl: string | undefined;
  for await (const line of createInterface({ input: child.stdout! })) {
    url ??= /^Console and API: (\S+)/.exec(line)?.[1];
    gateUrl ??= /^Decisions for gateways: (\S+)/.exec(line)?.[1];
    const keyFile = /ccess key in (.+)$/.exec(line)?.[1];
    if (url !== undefined && gateUrl !== undefined && keyFile !== undefined) return { url, gateUrl, keyFile };
  }
  throw new Error('the service did not start');
}

/** Runs the client, with `input` at its standard input, and waits for its end. */
export async function runClient(args: readonly string[], env: NodeJS.ProcessEnv = {}, input = ''): Promise<Ran> {
  const child = spawn(process.execPath, [CLIENT, ...args], {
    env: { ...process.env, NO_COLOR: '1', ...env },
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  child.stdin.end(input);
  const text = { out: '', err: '' };
  child.stdout.on('data', (piece: Buffer) => {
    text.out += piece.toString();
  });
  child.stderr.on('data', (piece: Buffer) => {
    text.err += piece.toString();
  });
  const [code] = (await once(child, 'close')) as [number];
  return { code, ...text };
}

export async function callApi(
  url: string,
  method: string,
  path: string,
  body: unknown,
  headers: Record<string, string>,
): Promise<Answer> {
  const sent = body === undefined ? {} : typeof body === 'string' ? { body } : { body: JSON.stringify(body) };
  const type = typeof body === 'object' ? { 'content-type': 'application/json' } : {};
  // A text that took long to make kept this thread from seeing that a connection, which waited for it, was closed.
  if (typeof body === 'string') await sleep(1);
  const response = await fetch(`${url}${path}`, { method, headers: { ...type, ...headers }, ...sent });
  const text = await response.text();
  const shown = { status: response.status, type: response.headers.get('content-type') ?? '' };
  const answer = { ...shown, body: text === '' ? undefined : parse(text) };
  if (response.ok && answer.type.startsWith('application/json')) holdToContract(method, path, answer.body);
  return answer;
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}

/** The replay when it has ended. */
// biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
export async function ended(service: Pick<TestService, 'call'>, id: number): Promise<any> {
  for (const end = Date.now() + 45_000; Date.now() < end; await sleep(50)) {
    const { body } = await service.call('GET', `/api/v1/replays/${id}`);
    if (body.state !== 'waiting' && body.state !== 'running') return body;
  }
  throw new Error(`replay ${id} does not end`);
}

/** Starts a service with the garden in it: its workspace, its country data and its log, replayed. */
export async function startGarden(args: readonly string[] = []): Promise<TestService & { readonly database: string }> {
  return start(args, await gardenTemplate());
}

/** A database that has the garden, with the access key of its administrator, to be copied. */
interface Template {
  readonly database: string;
  readonly key: string;
}

const GARDEN = 'garden';
/** Any number, so that two workers do not make the template at a time. */
const GARDEN_LOCK = 71_400;

/** The garden is loaded once a run, by the first who asks for it: copying its database takes a tenth of the time. */
async function gardenTemplate(): Promise<Template> {
  const admin = new pg.Client({ host: inject('socketDir'), user: USER, database: 'postgres' });
  await admin.connect();
  try {
    await admin.query('select pg_advisory_lock($1)', [GARDEN_LOCK]);
    const known = await admin.query<{ key: string }>(
      "select shobj_description(oid, 'pg_database') as key from pg_database where datname = $1",
      [GARDEN],
    );
    if (known.rows[0]) return { database: GARDEN, key: known.rows[0].key };
    const service = await startService();
    await loadGarden(service).finally(() => service.stop());
    // The key is where whoever copies the database finds it.
    const made = /@\/(\w+)\?/.exec(service.database)?.[1] as string;
    await admin.query(`comment on database ${made} is '${service.key}'`);
    await admin.query(`alter database ${made} rename to ${GARDEN}`);
    return { database: GARDEN, key: service.key };
  } finally {
    await admin.end();
  }
}

async function loadGarden(service: TestService): Promise<void> {
  for (const step of [
    ['workspace', 'apply', `${DEMO}workspace`],
    ['country', 'import', `${DEMO}country-data.csv`, '--date', '2026-11-01'],
    ['resolution', 'import', `${DEMO}resolutions.csv`],
    ['replay', 'run', '--import', `${DEMO}logs/week.jsonl`, '--at', '2026-11-23T00:00:00Z'],
  ]) {
    const ran = await service.client(...step);
    if (ran.code !== 0) throw new Error(`${step.join(' ')}: ${ran.err}`);
  }
}
