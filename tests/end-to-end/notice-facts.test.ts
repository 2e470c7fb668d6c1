import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { signIn } from '../setup/console.js';
import { startService, type TestService } from '../setup/service.js';

/** A notice says the same of a request wherever it is shown: to a client that is stopped, when it is tried, in the library. */
let service: TestService;
let folder: string;

const WORDS = ['host', 'path', 'client', 'country', 'rule', 'policy', 'time', 'request'];
const WORKSPACE = `policy: seed-shop
covers: {hosts: [seeds.fennelhill.example]}
client: {from: peer}
default: allow
rules:
  - {rule: closed, when: {path: [/closed/**]}, then: {block: {status: 451, notice: sorry}}}
---
notice: sorry
title: Closed to {client}
text: |
  ${WORDS.map((word) => `${word}={${word}}`).join('; ')}.
contact: help@fennelhill.example
`;
const ASKED = {
  peer: '198.18.4.20',
  method: 'GET',
  scheme: 'https',
  host: 'seeds.fennelhill.example',
  path: '/closed/1',
};

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-notice-'));
  writeFileSync(join(folder, 'shop.yaml'), WORKSPACE);
  writeFileSync(join(folder, 'countries.csv'), '198.18.0.0/20,XA\n');
  await service.client('country', 'import', join(folder, 'countries.csv'), '--date', '2026-11-01');
  await service.client('workspace', 'apply', join(folder, 'shop.yaml'));
  await service.client('revision', 'publish', '-m', 'Open', '--accept-warnings');
  for (let revision = 0; revision !== 1; await sleep(50))
    revision = (await service.call('GET', '/api/v1/live')).body.revision;
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

/** What a notice says, by the words in it. */
const said = (detail: string): Record<string, string> =>
  Object.fromEntries(
    detail
      .replace(/\.$/, '')
      .split('; ')
      .map((each) => each.split('=') as [string, string]),
  );
const KNOWN = {
  ...{ host: 'seeds.fennelhill.example', path: '/closed/1', client: '198.18.4.20', country: 'XA' },
  ...{ rule: 'closed', policy: 'seed-shop', time: expect.stringMatching(/^20\d\d-.*Z$/) },
};

it('says everything of a request that is stopped, with the reference that its record is found by', async () => {
  const { body } = await service.ask('POST', '/decide', ASKED);
  const { notice, reference, status } = body.answer;
  expect([status, notice.title, notice.contact]).toEqual([451, 'Closed to 198.18.4.20', 'help@fennelhill.example']);
  expect(said(notice.detail)).toEqual({ ...KNOWN, request: reference });
  expect(reference).toMatch(/^[2-9A-Z]{8}$/);
  const other = (await service.ask('POST', '/decide', ASKED)).body.answer.reference;
  expect(other).not.toBe(reference);
  for (let tries = 0; ; tries++) {
    const { decisions } = (await service.call('GET', `/api/v1/decisions?reference=${reference}`)).body;
    if (decisions.length === 1) {
      expect(decisions[0]).toMatchObject({ reference, rule: 'closed', client: '198.18.4.20' });
      break;
    }
    expect(tries).toBeLessThan(50);
    await sleep(100);
  }
  const { out } = await service.client('decision', 'list', '--reference', reference);
  expect(out).toContain(reference);
  expect(out).not.toContain(other);
});

it('says as much when a request is tried, and in the library of a made-up one', async () => {
  const { notice } = (await service.call('POST', '/api/v1/explanations', { request: ASKED })).body;
  expect(notice).toMatchObject({ notice: 'sorry', status: 451, title: 'Closed to 198.18.4.20' });
  expect(said(notice.detail)).toEqual({ ...KNOWN, request: expect.stringMatching(/\w/) });
  const preview = (await service.call('GET', '/api/v1/notices/sorry')).body;
  for (const word of WORDS) expect([word, said(preview.detail)[word]]).toEqual([word, expect.stringMatching(/[^–]/)]);
  const allowed = (await service.call('POST', '/api/v1/explanations', { request: { ...ASKED, path: '/' } })).body;
  expect(allowed.notice).toBeNull();
});

it('is shown so in the console', async () => {
  const browser = await launchBrowser();
  try {
    const { page } = await openPage(browser);
    await signIn(page, service);
    await page.getByText('seed-shop').first().waitFor();
    await page.goto(`${service.url}/try?client=198.18.4.20&url=https%3A%2F%2Fseeds.fennelhill.example%2Fclosed%2F1`);
    const figure = page.getByRole('figure', { name: 'As the client sees it' });
    await figure.getByText('country=XA; rule=closed').waitFor();
    await figure.getByText('Closed to 198.18.4.20').waitFor();
    await page.goto(`${service.url}/library/notice/sorry`);
    await figure.getByText('the request is made up').waitFor();
    expect(await figure.textContent()).not.toContain('–');
  } finally {
    await browser.close();
  }
});
