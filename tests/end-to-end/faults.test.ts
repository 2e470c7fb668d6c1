import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { ended, launch, startService, type TestService } from '../setup/service.js';

/** What logs and machines do to a service at their worst: it says so, and goes on. */
const line = (at: number, more: object = {}) =>
  JSON.stringify({
    time: new Date(Date.UTC(2026, 10, 9) + at * 1000).toISOString(),
    peer: `198.18.0.${at % 5}`,
    host: 'a.example',
    path: '/account/sign-in',
    method: 'POST',
    ...more,
  });
const POLICY =
  'policy: p\ncovers: {hosts: [.example]}\ndefault: allow\nrules:\n  - rule: flood\n    limit: {more-than: 2, within: 20s, per: [client]}\n    then: block\n';

describe('a service', () => {
  let service: TestService;

  beforeAll(async () => {
    service = await startService();
    await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: POLICY }] });
  });
  afterAll(() => service.stop());

  const importing = (name: string, text: string) => service.call('POST', `/api/v1/logs?name=${name}`, text);

  it('passes over a line of 50 MB, and takes those around it', async () => {
    const huge = line(1, { path: `/${'x'.repeat(50 * 1024 * 1024)}` });
    const { body } = await importing('huge', [line(0), huge, line(2)].join('\n'));
    expect(body).toMatchObject({ requests: 2, lines: 3, rejected: 1 });
    const { rejected } = (await service.call('GET', '/api/v1/logs/huge/rejected')).body;
    expect(rejected).toMatchObject([{ line: 2, code: 'too-long' }]);
  });

  it('refuses 50 MB without any end of a line, and nothing is left of it', async () => {
    const answer = await importing('endless', 'x'.repeat(50 * 1024 * 1024));
    expect(answer).toMatchObject({ status: 422, body: { code: 'no-readable-lines' } });
    expect((await service.call('GET', '/api/v1/logs/endless')).status).toBe(404);
  });

  it('counts limits by time, whatever order the log is in and however its clocks go back', async () => {
    const lines = Array.from({ length: 300 }, (_, at) => line(at, { query: `n=${at}` }));
    const shuffled = lines.map((text, at) => ({ text, key: (at * 7919) % 300 })).sort((a, b) => a.key - b.key);
    await importing('in-order', lines.join('\n'));
    await importing('shuffled', shuffled.map(({ text }) => text).join('\n'));
    const shown = [];
    for (const log of ['in-order', 'shuffled']) {
      const { id } = (await service.call('POST', '/api/v1/replays', { log })).body;
      await ended(service, id);
      const { requests } = (await service.call('GET', `/api/v1/replays/${id}/requests?limit=1000`)).body;
      shown.push(
        requests
          .map((each: { request: { query: string }; verdict: string }) => `${each.request.query} ${each.verdict}`)
          .sort(),
      );
    }
    expect(shown[1]).toEqual(shown[0]);
    expect(shown[0].filter((each: string) => each.endsWith('block')).length).toBeGreaterThan(50);
  });

  it('takes chunks of which none of the lines before can be read', async () => {
    const lines = [...Array.from({ length: 70_000 }, () => 'nonsense'), line(1), line(2)];
    const { body } = await importing('late&format=json-lines', lines.join('\n'));
    expect(body).toMatchObject({ requests: 2, rejected: 70_000, looksWrong: true, format: 'json-lines' });
    const { id } = (await service.call('POST', '/api/v1/replays', { log: 'late' })).body;
    expect(await ended(service, id)).toMatchObject({ state: 'done', total: 2 });
    const { requests } = (await service.call('GET', `/api/v1/replays/${id}/requests`)).body;
    expect(requests.map(({ number, line: at }: { number: number; line: number }) => [number, at])).toEqual([
      [1, 70_001],
      [2, 70_002],
    ]);
  });
});

/** Whether a small file system of its own can be made here: as root, where that is allowed. */
function smallDisk(folder: string): boolean {
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=130m,mode=711', 'tmpfs', folder], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

describe('a disk that is full', () => {
  const folder = openFolder();
  const small = smallDisk(folder);
  afterAll(() => {
    if (small) execFileSync('umount', [folder]);
    rmSync(folder, { recursive: true, force: true });
  });

  it.skipIf(!small)(
    'is reported, what was stored stays, and all goes on when there is room',
    { timeout: 150_000 },
    async () => {
      const env: NodeJS.ProcessEnv = { ...process.env, NO_COLOR: '1' };
      delete env.DATABASE_URL;
      const service = await launch(['--port', '0', '--data-dir', join(folder, 'data')], env);
      try {
        await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: POLICY }] });
        // Queries that are like no other take room.
        const log = (salt: number) =>
          Array.from({ length: 60_000 }, (_, at) =>
            line(at, {
              query: Array.from({ length: 8 }, (__, part) => (at * 2654435761 + salt * 97 + part * 40503) >>> 0).join(
                '',
              ),
            }),
          ).join('\n');
        let full: { status: number; body: { code: string } } | undefined;
        let kept = 0;
        for (; full === undefined && kept < 60; ) {
          const answer = await service.call('POST', `/api/v1/logs?name=log-${kept}`, log(kept));
          if (answer.status === 201) kept++;
          else full = answer;
        }
        expect(full).toMatchObject({ status: expect.any(Number), body: { code: expect.stringMatching(/^database-/) } });
        expect([503, 507]).toContain(full?.status);
        // With no room at all the database itself may have to wait for some.
        execFileSync('mount', ['-o', 'remount,size=300m', folder]);
        for (let wait = 0; wait < 150 && (await service.call('GET', '/ready')).status !== 200; wait++)
          await new Promise((resolve) => setTimeout(resolve, 200));
        const logs = (await service.call('GET', '/api/v1/logs')).body.logs as { requests: number }[];
        expect(logs.map(({ requests }) => requests)).toEqual(Array.from({ length: kept }, () => 60_000));
        for (let gone = 0; gone < Math.ceil(kept / 2); gone++)
          expect((await service.call('DELETE', `/api/v1/logs/log-${gone}`)).status).toBe(204);
        expect((await service.call('POST', '/api/v1/logs?name=again', log(0))).status).toBe(201);
        const { id } = (await service.call('POST', '/api/v1/replays', { log: 'again' })).body;
        expect(await ended(service, id)).toMatchObject({ state: 'done' });
      } finally {
        await service.stop();
      }
    },
  );
});
