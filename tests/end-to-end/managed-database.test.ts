import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { CLIENT, ended, launch, runClient } from '../setup/service.js';

/** A service with the PostgreSQL server of its own: what it leaves behind, and what it survives. */
let folder: string;
const env: NodeJS.ProcessEnv = { ...process.env, NO_COLOR: '1' };
delete env.DATABASE_URL;

beforeAll(() => {
  folder = openFolder();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const start = () => launch(['--port', '0', '--data-dir', join(folder, 'data')], env);
const serve = (...args: string[]) =>
  runClient(['service', 'run', '--log-level', 'error', '--gate-port', '0', ...args], { DATABASE_URL: '' });

/** The process of the database server over our data, or undefined. */
function databaseProcess(): number | undefined {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .find((pid) => {
      try {
        const words = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
        return words[0]?.endsWith('/postgres') && words.includes(join(folder, 'data', 'postgres'));
      } catch {
        return false;
      }
    });
}

async function gone(): Promise<boolean> {
  for (const end = Date.now() + 15_000; Date.now() < end; await sleep(100))
    if (databaseProcess() === undefined) return true;
  return false;
}

describe('the managed database', () => {
  it('starts with the service, keeps its data, and is stopped with it', async () => {
    const first = await start();
    await first.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text: 'list: kept\nof: domains\n' }] });
    expect(databaseProcess()).toBeDefined();
    await first.stop();
    expect(await gone()).toBe(true);
    const second = await start();
    expect((await second.call('GET', '/api/v1/lists/kept')).status).toBe(200);
    expect(second.key).toBe(first.key);
    await second.stop();
    expect(await gone()).toBe(true);
  });

  it('listens on no network port, and lets nobody else at its socket or the key', async () => {
    const service = await start();
    const command = readFileSync(`/proc/${databaseProcess()}/cmdline`, 'utf8').split('\0');
    expect(command).toContain('listen_addresses=');
    expect(statSync(join(folder, 'data', 'access-key')).mode & 0o777).toBe(0o600);
    expect(statSync(join(folder, 'data', 'socket')).mode & 0o077).toBe(0);
    await service.stop();
  });

  it('survives a kill of the service: nothing is left running, and nothing committed is lost', async () => {
    const service = await start();
    await service.call('PUT', '/api/v1/workspace', {
      files: [{ name: 'b.yaml', text: 'list: before-the-kill\nof: domains\n' }],
    });
    service.process.kill('SIGKILL');
    await once(service.process, 'exit');
    const again = await start();
    expect((await again.call('GET', '/api/v1/lists/before-the-kill')).status).toBe(200);
    await again.stop();
    expect(await gone()).toBe(true);
  });

  it.each(['SIGKILL', 'SIGTERM'] as const)('ends with what started it, on request, by %s too', async (signal) => {
    const args = ['service', 'run', '--log-level', 'error', '--port', '0', '--gate-port', '0', '--stop-with-input'];
    const data = join(folder, 'data');
    const script = `require('node:child_process').spawn(process.execPath, ${JSON.stringify([CLIENT, ...args, '--data-dir', data])}, {
      stdio: ['pipe', 'inherit', 'inherit'],
    });`;
    const starter = spawn(process.execPath, ['-e', script], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    let shown = '';
    starter.stdout.on('data', (piece) => {
      shown += piece;
    });
    for (const end = Date.now() + 30_000; !shown.includes('Console and API') && Date.now() < end; ) await sleep(50);
    expect(databaseProcess()).toBeDefined();
    starter.kill(signal);
    await once(starter, 'exit');
    expect(await gone()).toBe(true);
  });

  it('ends by a signal while the input that it would end with is open', async () => {
    const args = ['service', 'run', '--log-level', 'error', '--port', '0', '--gate-port', '0', '--stop-with-input'];
    const child = spawn(process.execPath, [CLIENT, ...args, '--data-dir', join(folder, 'data')], {
      env,
      stdio: ['pipe', 'pipe', 'inherit'],
    });
    for await (const piece of child.stdout) if (String(piece).includes('ccess key')) break;
    child.kill('SIGTERM');
    const ended = once(child, 'exit').then(() => true);
    expect(await Promise.race([ended, sleep(15_000).then(() => false)])).toBe(true);
    expect(await gone()).toBe(true);
  });

  it('takes up a replay that the stop interrupted when it is back', async () => {
    const service = await start();
    const lines = '{"host":"a.example","peer":"198.18.0.1","path":"/","method":"GET"}\n'.repeat(150_000);
    await service.call('PUT', '/api/v1/workspace', {
      files: [{ name: 'p.yaml', text: 'policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\n' }],
    });
    await service.call('POST', '/api/v1/logs?name=long', lines);
    const { id } = (await service.call('POST', '/api/v1/replays', { log: 'long' })).body;
    await service.stop();
    const again = await start();
    expect(await ended(again, id)).toMatchObject({ state: 'done', done: 150_000 });
    await again.stop();
  });

  it('is not shared by a second service, which says what to do', async () => {
    const service = await start();
    const second = await serve('--port', '0', '--data-dir', join(folder, 'data'));
    expect([second.code, second.err]).toEqual([3, expect.stringContaining('Another Jade Fence service is using')]);
    expect((await service.call('GET', '/ready')).status).toBe(200);
    await service.stop();
  });

  it('is stopped again where the port is taken', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await once(taken, 'listening');
    const { port } = taken.address() as { port: number };
    const ran = await serve('--port', String(port), '--data-dir', join(folder, 'data'));
    expect([ran.code, ran.err]).toEqual([
      3,
      expect.stringContaining(`Port ${port} of 127.0.0.1 is in use by another program.`),
    ]);
    expect(ran.err).toContain('--port 0');
    expect(await gone()).toBe(true);
    taken.close();
  });

  it('is not needed where DATABASE_URL is set, and says so where that cannot be used', async () => {
    const ran = await runClient(['service', 'run', '--port', '0', '--data-dir', join(folder, 'other')], {
      DATABASE_URL: 'postgres://nobody@127.0.0.1:1/none',
    });
    expect([ran.code, ran.err]).toEqual([3, expect.stringContaining('See that DATABASE_URL is right')]);
  });

  it('gives way to a new key on request', async () => {
    const before = await start();
    await before.stop();
    const after = await launch(['--port', '0', '--new-key', '--data-dir', join(folder, 'data')], env);
    expect(after.key).not.toBe(before.key);
    expect(
      (await after.call('GET', '/api/v1/workspace', undefined, { authorization: `Bearer ${before.key}` })).status,
    ).toBe(401);
    await after.stop();
  });
});
