import { once } from 'node:events';
import { readdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startService, type TestService } from '../setup/service.js';

/** Live decisions are made in a process of their own, which neither the service nor its end can hold up. */
let service: TestService;

const POLICY = `policy: herbarium
covers: {hosts: [herbarium.fennelhill.example]}
default: allow
rules:
  - {rule: lent, when: {client: [loans]}, then: block}
  - {rule: closed, when: {path: ["/closed/**"]}, then: block}
---
list: loans
of: addresses
entries: [198.18.4.4]
`;

beforeAll(async () => {
  service = await startService();
  expect((await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text: POLICY }] })).status).toBe(
    200,
  );
  expect((await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true })).status).toBe(201);
  while ((await decide('/closed/x')).body?.verdict !== 'block') await sleep(20);
});
afterAll(() => service?.stop());

const decide = (path: string, peer = '198.18.9.9') =>
  service.ask('POST', '/decide', { host: 'herbarium.fennelhill.example', peer, method: 'GET', path });

/** The process of the service that makes its decisions. */
function gateOf(parent: number): number {
  const found = gateIfAny(parent);
  if (found === undefined) throw new Error('the service has no process that decides');
  return found;
}

function gateIfAny(parent: number): number | undefined {
  const found = readdirSync('/proc').find((pid) => {
    try {
      const isOwn = readFileSync(`/proc/${pid}/status`, 'utf8').includes(`\nPPid:\t${parent}\n`);
      return isOwn && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('gate-main');
    } catch {
      return false;
    }
  });
  return found === undefined ? undefined : Number(found);
}

const lives = (pid: number): boolean => {
  try {
    return !/^State:\tZ/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
};

describe('the process that decides', () => {
  it('goes on while the service hangs, for tokens that it has not seen too', async () => {
    const { body } = await service.call('POST', '/api/v1/tokens', { name: 'second-gateway', kind: 'gateway' });
    const pid = service.process.pid as number;
    process.kill(pid, 'SIGSTOP');
    try {
      for (const token of [await service.gatewayToken(), body.secret]) {
        const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json' };
        const shown = { host: 'herbarium.fennelhill.example', peer: '198.18.4.4', method: 'GET', path: '/' };
        const asked = await fetch(`${service.gateUrl}/decide`, {
          method: 'POST',
          headers,
          body: JSON.stringify(shown),
        });
        expect(await asked.json()).toMatchObject({ verdict: 'block', rule: 'lent' });
      }
    } finally {
      process.kill(pid, 'SIGCONT');
    }
  });

  it('is not ended by the signals that end the service, but by the service', async () => {
    const pid = gateOf(service.process.pid as number);
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.kill(pid, signal);
    await sleep(300);
    expect((await decide('/closed/x')).body.verdict).toBe('block');
    expect(gateOf(service.process.pid as number)).toBe(pid);
  });

  it('is started anew where it is lost, at the same place and by the same rules, and lets nothing through meanwhile', async () => {
    const before = gateOf(service.process.pid as number);
    process.kill(before, 'SIGKILL');
    const verdicts: unknown[] = [];
    for (const until = Date.now() + 15_000; Date.now() < until && verdicts.length < 5; await sleep(20)) {
      const answer = await decide('/closed/x').catch(() => undefined);
      if (answer) verdicts.push(answer.body.verdict);
    }
    expect(verdicts).toEqual(Array.from({ length: 5 }, () => 'block'));
    expect(gateOf(service.process.pid as number)).not.toBe(before);
    // What is published then is decided by.
    const files = [{ name: 'a.yaml', text: POLICY.replace('/closed/**', '/shut/**') }];
    await service.call('PUT', '/api/v1/workspace', { files });
    await service.call('POST', '/api/v1/revisions', { message: 'Shut', acceptWarnings: true });
    await expect.poll(async () => (await decide('/shut/x')).body?.verdict, { timeout: 10_000 }).toBe('block');
    expect((await decide('/closed/x')).body.verdict).toBe('allow');
    expect((await service.call('GET', '/api/v1/live')).body).toMatchObject({ revision: 2, unrecorded: 0 });
  });

  it('is started once, however often it is lost while it starts', async () => {
    const killed = new Set<number>();
    for (const until = Date.now() + 3000; Date.now() < until; await sleep(30)) {
      const gate = gateIfAny(service.process.pid as number);
      if (gate === undefined || killed.has(gate)) continue;
      // At another moment of its start each time.
      await sleep(90 * killed.size);
      process.kill(gate, 'SIGKILL');
      killed.add(gate);
    }
    expect(killed.size).toBeGreaterThan(2);
    const answered = async () => (await decide('/shut/x').catch(() => undefined))?.body.verdict;
    await expect.poll(answered, { timeout: 15_000 }).toBe('block');
    const counts = async () => (await service.call('GET', '/api/v1/live')).body.counts;
    const first = await counts();
    expect(first).toContainEqual(expect.objectContaining({ rule: 'closed', verdict: 'block' }));
    // Whoever starts it once more would begin to count anew.
    for (let look = 0; look < 8; look++, await sleep(200)) expect(await counts()).toEqual(first);
  });

  it('leaves no rules behind on their way, those of a service that was killed neither', async () => {
    const folder = join(service.folder, 'gate');
    const left = join(folder, 'left.flat');
    writeFileSync(left, 'left');
    const before = new Date(Date.now() - 3_600_000);
    utimesSync(left, before, before);
    const files = [{ name: 'a.yaml', text: POLICY.replace('/closed/**', '/barred/**') }];
    await service.call('PUT', '/api/v1/workspace', { files });
    await service.call('POST', '/api/v1/revisions', { message: 'Barred', acceptWarnings: true });
    await expect.poll(async () => (await decide('/barred/x')).body?.verdict, { timeout: 10_000 }).toBe('block');
    await expect.poll(() => readdirSync(folder)).toEqual([]);
  });

  it('is gone where the service is killed', async () => {
    const gate = gateOf(service.process.pid as number);
    service.process.kill('SIGKILL');
    await once(service.process, 'exit');
    await expect.poll(() => lives(gate), { timeout: 5000 }).toBe(false);
  });
});
