import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { afterAll, expect, it } from 'vitest';
import { newDatabase } from '../setup/service.js';

/** The package that `npm run pack` makes, installed where nothing of this checkout is. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-package-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const run = (program: string, args: readonly string[], env: NodeJS.ProcessEnv = {}) => {
  const ran = spawnSync(program, args, {
    cwd: folder,
    encoding: 'utf8',
    env: { ...process.env, NO_COLOR: '1', ...env },
  });
  return { code: ran.status, out: ran.stdout, err: ran.stderr };
};

it('is installed by npm, and runs the client, the service and the console', async () => {
  const pack = new URL('../../scripts/pack.mjs', import.meta.url).pathname;
  expect(run(process.execPath, [pack, '--built', '--output', folder]).code).toBe(0);
  const [tarball] = readdirSync(folder).filter((name) => name.endsWith('.tgz'));
  const prefix = join(folder, 'installed');
  const install = ['install', '--global', '--prefix', prefix, '--prefer-offline', '--no-audit', '--no-fund'];
  const installed = run('npm', [...install, join(folder, tarball as string)]);
  expect([installed.code, installed.err.match(/npm error.*/)]).toEqual([0, null]);

  const client = join(prefix, 'bin', 'jade-fence');
  const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8'));
  expect(run(client, ['--version']).out.trim()).toBe(version);

  const data = join(folder, 'data');
  const args = ['service', 'run', '--port', '0', '--gate-port', '0', '--data-dir', data, '--log-level', 'error'];
  const service = spawn(client, args, {
    cwd: folder,
    env: { ...process.env, DATABASE_URL: await newDatabase() },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    let url: string | undefined;
    for await (const line of createInterface({ input: service.stdout })) {
      url = /^Console and API: (\S+)/.exec(line)?.[1];
      if (url !== undefined) break;
    }
    const own = ['--service', url as string, '--key-file', join(data, 'access-key')];
    expect(run(client, [...own, 'service', 'show']).out).toContain('The workspace is empty.');
    const page = await (await fetch(url as string)).text();
    const script = /src="([^"]+\.js)"/.exec(page)?.[1] as string;
    expect((await fetch(new URL(script, url))).status).toBe(200);
    expect((await fetch(`${url}/api/v1/openapi.json`)).headers.get('content-type')).toContain('json');
  } finally {
    service.kill('SIGTERM');
    await once(service, 'exit');
  }
});
