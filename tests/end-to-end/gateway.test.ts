import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { DEMO, runClient, startService, type TestService } from '../setup/service.js';

/** A gateway with made-up sites behind it, in a browser: what a client meets that is stopped, and how it goes on. */
let service: TestService;
let gateway: ChildProcess;
let url: string;
let browser: Browser;
let page: Page;

const policy = (gate: string) => `policy: guide-pages
covers: {hosts: [guide.fennelhill.example]}
default: allow
rules:
  - rule: sure
    when: {path: [/sure]}
    then: {confirm: {for: 1h}}
  - rule: members
    when: {path: [/members]}
    then: {unlock: {passcode: gardeners, for: 1h}}
  - rule: browsers
    when: {path: [/browsers]}
    then: {challenge: {}}
  - rule: moved
    when: {path: [/old]}
    then: {redirect: "${gate}/guide.fennelhill.example/new"}
`;

beforeAll(async () => {
  [service, browser] = await Promise.all([startService(), launchBrowser()]);
  const main = new URL('../../demo/dist/gateway/main.js', import.meta.url).pathname;
  const key = join(service.folder, 'access-key');
  const args = [main, '--service', service.url, '--gate', service.gateUrl, '--key-file', key, '--port', '0'];
  gateway = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
  const [line] = (await once(createInterface({ input: gateway.stdout! }), 'line')) as [string];
  url = line.slice(line.indexOf('http'));
  await service.client('workspace', 'apply', `${DEMO}workspace`);
  await service.client('country', 'import', `${DEMO}country-data.csv`);
  await service.call('DELETE', '/api/v1/objects/check/what-visitors-reach', undefined, { 'if-match': '"1"' });
  const put = await service.call(
    'PUT',
    '/api/v1/objects/policy/guide-pages',
    { text: policy(url) },
    { 'if-none-match': '*' },
  );
  expect(put.status).toBe(200);
  expect((await service.client('revision', 'publish', '-m', 'Open', '--accept-warnings')).err).toBe('');
  const set = [
    '--service',
    service.url,
    '--key-file',
    join(service.folder, 'access-key'),
    'passcode',
    'set',
    'gardeners',
  ];
  expect((await runClient(set, {}, 'moss on stone\n')).out).toBe('Passcode gardeners is set.\n');
  ({ page } = await openPage(browser));
});
afterAll(async () => {
  gateway?.kill();
  await browser?.close();
  await service?.stop();
});

const open = (path: string) => page.goto(`${url}/guide.fennelhill.example${path}`);
const through = () => page.getByText('Let through by guide-pages').waitFor();

it('lets one come as a probe, and shows the notice that the probe would see', async () => {
  await page.goto(url);
  await page.getByRole('link', { name: 'visitor-phone' }).click();
  await page.getByText('visitor-phone at 10.40.3.7 (you)').waitFor();
  await page.getByRole('link', { name: 'maps.hedgerow.example/' }).click();
  await page.getByText('Let through by visitor-web / web-for-all.').waitFor();
  await page.goto(`${url}/-/as/abroad-desk`);
  const stopped = await page.goto(`${url}/tickets.fennelhill.example/whats-on`);
  expect(stopped?.status()).toBe(403);
  await page.getByText('The rule no-harvesters of ticket-site says so.').waitFor();
});

it('goes on where one says yes', async () => {
  await open('/sure');
  await page.getByRole('button', { name: 'Go on all the same' }).click();
  await through();
  await open('/sure');
  await through();
  // The yes is this client's, and not another's.
  const { value } = (await page.context().cookies()).find(({ name }) => name === 'jade_fence_grants') as {
    value: string;
  };
  const asked = { method: 'GET', host: 'guide.fennelhill.example', path: '/sure', grants: [value] };
  expect((await service.ask('POST', '/decide', { ...asked, peer: '198.18.97.3' })).body.verdict).toBe('allow');
  expect((await service.ask('POST', '/decide', { ...asked, peer: '198.18.4.20' })).body.verdict).toBe('confirm');
  expect(
    (await service.ask('POST', '/decide', { ...asked, peer: '198.18.97.3', grants: [`${value}x`] })).body.verdict,
  ).toBe('confirm');
});

it('opens by the passcode, and by no other', async () => {
  await open('/members');
  await page.getByLabel('Passcode').fill('a guess');
  await page.getByRole('button', { name: 'Open' }).click();
  await page.getByRole('alert').filter({ hasText: 'The rule requires the passcode' }).waitFor();
  await page.getByLabel('Passcode').fill('moss on stone');
  await page.getByRole('button', { name: 'Open' }).click();
  await through();
});

it('lets a browser pass its challenge by itself, and follows a redirect', async () => {
  await open('/browsers');
  await through();
  await open('/old');
  expect(page.url()).toBe(`${url}/guide.fennelhill.example/new`);
});

it('gives nothing to who meets nothing', async () => {
  const grant = (path: string, given: object) =>
    service.ask('POST', '/decide/grants', {
      request: { peer: '198.18.4.20', method: 'GET', host: 'guide.fennelhill.example', path },
      ...given,
    });
  expect((await grant('/sure', {})).body.code).toBe('not-met');
  expect((await grant('/browsers', { number: '1' })).body.code).toBe('not-met');
  expect((await grant('/new', { yes: true })).body.code).toBe('nothing-asked');
  expect((await service.ask('POST', '/decide/grants', { yes: true })).body.code).toBe('not-an-object');
});
