import { once } from 'node:events';
import { readdirSync, readFileSync } from 'node:fs';
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
  expect((await service.call('PUT', '/api/workspace', { files: [{ name: 'a.yaml', text: POLICY }] })).status).toBe(200);
  expect((await service.call('POST', '/api/revisions', { message: 'Open', acceptWarnings: true })).status).toBe(201);
  while ((await decide('/closed/x')).body?.verdict !== 'block') await sleep(20);
});
afterAll(() => service?.stop());

const decide = (path: string, peer = '198.18.9.9') =>
  service.ask('POST', '/decide', { host: 'herbarium.fennelhill.example', peer, method: 'GET', path });

/** The process of the service's that decides. */
function gateOf(parent: number): number {
  const found = readdirSync('/proc').find((pid) => {
    try {
      const isOwn = readFileSync(`/proc/${pid}/status`, 'utf8').includes(`\nPPid:\t${parent}\n`);
      return isOwn && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('gate-main');
    } catch {
      return false;
    }
  });
  if (found === undefined) throw new Error('the service has no process that decides');
  return Number(found);
}

const lives = (pid: number): boolean => {
  try {
    return !/^State:\tZ/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
};

describe('the process that decides', () => {
  it('goes on while the service stands still, for tokens that it has not seen too', async () => {
    const { body } = await service.call('POST', '/api/tokens', { name: 'second-gateway', kind: 'gateway' });
    const pid = service.process.pid as number;
    process.kill(pid, 'SIGSTOP');
    try {
      for (const token of [await service.gatewayToken(), body.secret]) {
        const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json' };
        const told = { host: 'herbarium.fennelhill.example', peer: '198.18.4.4', method: 'GET', path: '/' };
        const asked = await fetch(`${service.gateUrl}/decide`, { method: 'POST', headers, body: JSON.stringify(told) });
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
    await service.call('PUT', '/api/workspace', { files });
    await service.call('POST', '/api/revisions', { message: 'Shut', acceptWarnings: true });
    await expect.poll(async () => (await decide('/shut/x')).body?.verdict, { timeout: 10_000 }).toBe('block');
    expect((await decide('/closed/x')).body.verdict).toBe('allow');
    expect((await service.call('GET', '/api/live')).body).toMatchObject({ revision: 2, unrecorded: 0 });
  });

  it('is gone where the service is killed', async () => {
    const gate = gateOf(service.process.pid as number);
    service.process.kill('SIGKILL');
    await once(service.process, 'exit');
    await expect.poll(() => lives(gate), { timeout: 5000 }).toBe(false);
  });
});
