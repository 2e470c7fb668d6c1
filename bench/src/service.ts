import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';

const CLIENT = new URL('../../cli/bin/jade-fence.js', import.meta.url).pathname;
const DEMO = new URL('../../demo/', import.meta.url).pathname;
const PIECE = 1024 * 1024;

/** A service of our own over an empty database, with the garden's workspace, to be called as its clients call it. */
export interface BenchService {
  readonly url: string;
  /** Where gateways ask. */
  readonly gateUrl: string;
  readonly pid: number;
  /** What its calls carry to be let in. */
  readonly headers: Record<string, string>;
  /** Sends a file. */
  send(method: string, path: string, file: string): Promise<void>;
  call<T>(method: string, path: string, body?: unknown): Promise<T>;
  /** Sends a log, whole or piece by piece, and waits until it is imported; `query` says how it is read. */
  upload(
    name: string,
    log: Buffer | Iterable<Buffer>,
    query?: Readonly<Record<string, string | readonly string[]>>,
  ): Promise<void>;
  /** Runs a replay, and fetches its report. Answers its number. */
  replay(log: string): Promise<number>;
}

let started: Promise<BenchService> | undefined;

/** The service of this run, which ends with it. */
export const benchService = (): Promise<BenchService> => {
  started ??= start();
  return started;
};

async function start(): Promise<BenchService> {
  const folder = mkdtempSync(join(tmpdir(), 'jade-fence-bench-'));
  chmodSync(folder, 0o711);
  const args = [
    'service',
    'run',
    '--port',
    '0',
    '--gate-port',
    '0',
    '--data-dir',
    join(folder, 'data'),
    '--log-level',
    'error',
    '--max-upload',
    '8GiB',
  ];
  const env = { ...process.env, DATABASE_URL: '' };
  const child = spawn(process.execPath, [CLIENT, ...args], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  const { url, gateUrl, keyFile } = await shown(child);
  const headers = { authorization: `Bearer ${readFileSync(keyFile, 'utf8').trim()}`, connection: 'close' };
  stopAtEnd(child, folder);
  const service = { ...serviceAt(url, gateUrl, headers), pid: child.pid as number };
  const workspace = spawn(
    process.execPath,
    [CLIENT, '--service', url, '--key-file', keyFile, 'workspace', 'apply', join(DEMO, 'workspace')],
    { stdio: 'ignore' },
  );
  await once(workspace, 'exit');
  await fetch(`${url}/api/v1/country-data?source=garden&date=2026-11-01`, {
    method: 'PUT',
    headers,
    body: readFileSync(join(DEMO, 'country-data.csv')),
  });
  return service;
}

function serviceAt(url: string, gateUrl: string, headers: Record<string, string>): Omit<BenchService, 'pid'> {
  const call = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const sent =
      body === undefined
        ? { headers }
        : { headers: { ...headers, 'content-type': 'application/json' }, body: JSON.stringify(body) };
    const response = await fetch(`${url}${path}`, { method, ...sent });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  return {
    url,
    gateUrl,
    headers: { authorization: headers.authorization as string },
    send: async (method, path, file) => {
      const response = await fetch(`${url}${path}`, { method, headers, body: file });
      if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    },
    call,
    upload: (name, log, query = {}) => {
      const given = Object.entries(query).flatMap(([key, values]) => [values].flat().map((value) => [key, value]));
      const search = new URLSearchParams([['name', name], ...(given as [string, string][])]);
      return upload(`${url}/api/v1/logs?${search}`, headers, log);
    },
    replay: async (log) => {
      const { id } = await call<{ id: number }>('POST', '/api/v1/replays', { log });
      await (await fetch(`${url}/api/v1/replays/${id}/progress`, { headers })).text();
      await call('GET', `/api/v1/replays/${id}/report`);
      return id;
    },
  };
}

async function upload(url: string, headers: Record<string, string>, log: Buffer | Iterable<Buffer>): Promise<void> {
  const isWhole = Buffer.isBuffer(log);
  const length = isWhole ? { 'content-length': log.length } : {};
  // Floors keep this thread busy for so long that the service ends connections that are kept.
  const call = request(url, { method: 'POST', agent: false, headers: { ...headers, ...length } });
  const answered = once(call, 'response');
  for (const piece of isWhole ? piecesOf(log) : log) if (!call.write(piece)) await once(call, 'drain');
  call.end();
  const [response] = await answered;
  let text = '';
  for await (const piece of response) text += piece;
  if (response.statusCode !== 201) throw new Error(`the import was refused: ${text}`);
}

function* piecesOf(bytes: Buffer): Generator<Buffer> {
  for (let at = 0; at < bytes.length; at += PIECE) yield bytes.subarray(at, at + PIECE);
}

async function shown(child: ChildProcess): Promise<{ url: string; gateUrl: string; keyFile: string }> {
  let url: string | undefined;
  let gateUrl: string | undefined;
  if (child.stdout)
    for await (const line of createInterface({ input: child.stdout })) {
      url ??= /^Console and API: (\S+)/.exec(line)?.[1];
      gateUrl ??= /^Decisions for gateways: (\S+)/.exec(line)?.[1];
      const keyFile = /ccess key in (.+)$/.exec(line)?.[1];
      if (url !== undefined && gateUrl !== undefined && keyFile !== undefined) return { url, gateUrl, keyFile };
    }
  throw new Error('the service did not start');
}

function stopAtEnd(child: ChildProcess, folder: string): void {
  process.once('beforeExit', async () => {
    const gone = once(child, 'exit');
    child.kill('SIGTERM');
    await gone;
    rmSync(folder, { recursive: true, force: true });
  });
  // Nothing is left running, even where a benchmark fails.
  process.once('exit', () => child.kill('SIGTERM'));
  child.unref();
  // biome-ignore lint/suspicious/noExplicitAny: the pipe of a child has this, and its type does not tell
  (child.stdout as any)?.unref?.();
}
