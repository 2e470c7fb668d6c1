import { createHmac } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, DEMO, launch, newDatabase, type TestService } from '../setup/service.js';

/** Requests that are being made: what gateways ask of two services on one database, while rules are published. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
const services: Omit<TestService, 'folder'>[] = [];
let key: string;
let hook: Server;
const alerts: { text: string; headers: IncomingHttpHeaders }[] = [];

const policy = (verdict: string, name = 'all') => `policy: herbarium
covers: {hosts: [herbarium.fennelhill.example]}
client: {from: forwarded, trust: [10.10.1.0/24]}
default: allow
rules:
  - rule: flood
    when: {path: [/sign-in]}
    limit: {more-than: 3, within: 1h, per: [client]}
    then: block
    record: alert
  - rule: ${name}
    when: {path: [/closed]}
    then: ${verdict}
`;

const call = (at: number, path: string, body: unknown, headers = {}) =>
  callApi((services[at] as TestService).url, 'POST', path, body, { authorization: `Bearer ${key}`, ...headers });
const ask = (at: number, path: string, body: unknown, headers = {}) =>
  (services[at] as TestService).ask('POST', path, body, headers);
const decide = async (at: number, path: string, more = {}) =>
  (
    await ask(at, '/decide', {
      peer: '198.18.4.20',
      method: 'GET',
      host: 'herbarium.fennelhill.example',
      path,
      ...more,
    })
  ).body;
const publish = async (text: string) => {
  await callApi(
    (services[0] as TestService).url,
    'PUT',
    '/api/v1/workspace',
    { files: [{ name: 'a.yaml', text }] },
    { authorization: `Bearer ${key}` },
  );
  const { status, body } = await call(0, '/api/v1/revisions', { message: 'Live', acceptWarnings: true });
  expect(status).toBe(201);
  return body.revision as number;
};
const inForce = async (at: number, revision: number) => {
  for (const end = Date.now() + 5000; Date.now() < end; await sleep(20))
    if ((await decide(at, '/')).revision === revision) return;
  throw new Error(`revision ${revision} does not come into force`);
};

beforeAll(async () => {
  const env = { ...process.env, DATABASE_URL: await newDatabase(), NO_COLOR: '1' };
  for (let at = 0; at < 2; at++)
    services.push(await launch(['--port', '0', '--data-dir', folder, '--workers', '1'], env));
  key = (services[0] as TestService).key;
  hook = createServer(async (request, response) => {
    let text = '';
    for await (const piece of request) text += piece;
    alerts.push({ text, headers: request.headers });
    // The first try is refused, and made again.
    response.writeHead(alerts.length === 1 ? 500 : 204).end();
  });
  await new Promise<void>((done) => hook.listen(0, '127.0.0.1', done));
});
afterAll(async () => {
  await Promise.all(services.map((service) => service.stop()));
  hook.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('live decisions', () => {
  it('wait for something to be published', async () => {
    expect(await ask(0, '/decide', { host: 'herbarium.fennelhill.example' })).toMatchObject({
      status: 503,
      body: { code: 'nothing-in-force' },
    });
  });

  it('are by what is published, in every service before long, and keep what limits counted', async () => {
    const first = await publish(policy('block'));
    await Promise.all([inForce(0, first), inForce(1, first)]);
    expect(await decide(1, '/closed')).toMatchObject({
      verdict: 'block',
      policy: 'herbarium',
      rule: 'all',
      answer: { status: 403 },
    });
    expect(await decide(1, '/open')).toMatchObject({ verdict: 'allow', rule: null });
    for (let at = 0; at < 3; at++) expect((await decide(0, '/sign-in')).verdict).toBe('allow');
    const second = await publish(policy('{redirect: "https://www.fennelhill.example/"}'));
    await Promise.all([inForce(0, second), inForce(1, second)]);
    expect(await decide(0, '/closed')).toMatchObject({
      verdict: 'redirect',
      answer: { location: 'https://www.fennelhill.example/' },
    });
    expect((await decide(0, '/sign-in')).verdict).toBe('block');
  });

  it('judge the client that trusted proxies name', async () => {
    const through = { peer: '10.10.1.4', 'forwarded-for': '198.18.7.7' };
    for (let at = 0; at < 3; at++) expect((await decide(0, '/sign-in', through)).verdict).toBe('allow');
    expect((await decide(0, '/sign-in', through)).verdict).toBe('block');
    expect((await decide(0, '/sign-in', { ...through, 'forwarded-for': '198.18.7.8' })).verdict).toBe('allow');
  });

  it('reach gateways by the status, with the notice as a page or as JSON', async () => {
    const catalogue = readFileSync(`${DEMO}workspace/catalogue.yaml`, 'utf8').match(/notice: (?:.|\n)*?(?=\n---)/)?.[0];
    const revision = await publish(`${policy('{block: {notice: not-here}}')}---\n${catalogue}\n`);
    await inForce(0, revision);
    const authorization = `Bearer ${await services[0]?.gatewayToken()}`;
    const gate = (path: string, more = {}) =>
      fetch(`${services[0]?.gateUrl}/gate`, {
        headers: {
          authorization,
          'x-forwarded-method': 'GET',
          'x-forwarded-proto': 'https',
          'x-forwarded-host': 'herbarium.fennelhill.example:443',
          'x-forwarded-uri': path,
          'x-forwarded-for': '203.0.113.9, 198.18.4.99',
          ...more,
        },
      });
    const open = await gate('/open?x=1');
    expect([open.status, open.headers.get('x-jade-fence-rule')]).toEqual([204, 'herbarium/default']);
    const page = await gate('/%63losed', { accept: 'text/html,*/*' });
    expect([page.status, page.headers.get('content-type')]).toEqual([403, 'text/html; charset=utf-8']);
    expect(await page.text()).toContain('<h1>This page is not open here</h1>');
    const json = await gate('/closed', { accept: 'application/json' });
    expect(await json.json()).toMatchObject({ title: 'This page is not open here', status: 403 });
    expect((await gate('/', { 'x-forwarded-host': 'no host' })).status).toBe(400);
    expect((await gate('/', { 'x-forwarded-for': 'nobody' })).status).toBe(400);
    expect((await gate('/open', { cookie: 'sign_in=secret-of-a-client', 'x-kind': 'kept' })).status).toBe(204);
    const hidden = { from: 'a-person@fennelhill.example', referer: 'https://a.example/?token=of-the-referrer' };
    expect((await gate('/open?bare-token&key=of-a-parameter', hidden)).status).toBe(204);
    const nothing = await fetch(`${services[0]?.gateUrl}/gate`, { headers: { authorization } });
    expect([nothing.status, ((await nothing.json()) as { code: string }).code]).toEqual([400, 'no-original']);
  });

  it('refuse who has no token, and what is no request', async () => {
    const url = (services[0] as TestService).gateUrl;
    expect(await callApi(url, 'POST', '/decide', {}, {})).toMatchObject({ status: 401 });
    expect(await callApi(url, 'POST', '/decide', {}, { authorization: 'Bearer wrong' })).toMatchObject({ status: 401 });
    expect(await ask(0, '/decide', '{"a":')).toMatchObject({ status: 400, body: { code: 'not-json' } });
    expect(await ask(0, '/decide', [1])).toMatchObject({ status: 400, body: { code: 'not-an-object' } });
    // A body without a field of a request would be covered by no policy, and so be let through.
    for (const nothing of [{}, { hostname: 'herbarium.fennelhill.example' }])
      expect(await ask(0, '/decide', nothing)).toMatchObject({ status: 422, body: { code: 'nothing-known' } });
    expect(await ask(0, '/decide', { host: 'not a host' })).toMatchObject({ status: 422 });
    expect(await ask(0, '/decide', { host: 'x'.repeat(70_000) })).toMatchObject({ status: 413 });
  });

  it('are counted and recorded as the rules ask, and raise alerts', async () => {
    const { port } = hook.address() as AddressInfo;
    const url = (services[0] as TestService).url;
    const own = { authorization: `Bearer ${key}` };
    const settings = { alertUrl: `http://127.0.0.1:${port}/taken?key=of-the-receiver`, alertPrivate: true };
    const change = (to: object) => callApi(url, 'PATCH', '/api/v1/settings', to, own);
    // A private address is refused unless it is allowed; what is raised waits.
    expect((await change({ ...settings, alertPrivate: false })).status).toBe(200);
    expect((await decide(0, '/sign-in')).verdict).toBe('block');
    await sleep(2500);
    expect(alerts).toEqual([]);
    const viewer = (await callApi(url, 'POST', '/api/v1/tokens', { name: 'looks', role: 'viewer' }, own)).body.secret;
    const seen = await callApi(url, 'GET', '/api/v1/settings', undefined, { authorization: `Bearer ${viewer}` });
    expect(seen.body.alertUrl).toBe(`http://127.0.0.1:${port}/…`);
    const asked = await callApi(url, 'GET', '/api/v1/settings/alert-secret', undefined, {
      authorization: `Bearer ${viewer}`,
    });
    expect(asked.status).toBe(403);
    expect((await change(settings)).status).toBe(200);
    expect((await decide(0, '/sign-in')).verdict).toBe('block');
    // The first is refused, and comes again, whatever others come between.
    const again = () =>
      alerts.slice(1).find(({ headers }) => headers['webhook-id'] === alerts[0]?.headers['webhook-id']);
    await expect.poll(again, { timeout: 20_000 }).toBeDefined();
    const [refused, taken] = [alerts[0], again()] as [(typeof alerts)[0], (typeof alerts)[0]];
    const sent = JSON.parse(taken.text).alerts as { rule: string; client: string; request: { host: string } }[];
    const flood = sent.find(({ rule }) => rule === 'flood');
    expect(flood).toMatchObject({
      policy: expect.any(String),
      verdict: expect.any(String),
      request: expect.any(Object),
    });
    expect(flood?.request.host).toContain('.example');
    // By Standard Webhooks: the same message under the same name, signed with its time.
    expect(taken.text).toBe(refused.text);
    const { secret } = (await callApi(url, 'GET', '/api/v1/settings/alert-secret', undefined, own)).body;
    for (const { text, headers } of alerts) {
      const signed = `${headers['webhook-id']}.${headers['webhook-timestamp']}.${text}`;
      const hmac = createHmac('sha256', Buffer.from(secret.replace('whsec_', ''), 'base64')).update(signed);
      expect(headers['webhook-signature']).toBe(`v1,${hmac.digest('base64')}`);
      expect(Math.abs(Number(headers['webhook-timestamp']) - Date.now() / 1000)).toBeLessThan(60);
    }
    const client = (services[0] as TestService).client;
    expect((await client('decision', 'count')).out).toMatch(/herbarium +flood +block +decided +\d/);
    const all = JSON.stringify(
      (await callApi(url, 'GET', '/api/v1/decisions', undefined, { authorization: `Bearer ${key}` })).body,
    );
    // Of the headers only those that are known to hold no secret are written down, and of parameters the names.
    expect(all).toContain('"accept"');
    const hidden = ['bare-token', 'of-a-parameter', 'of-the-referrer', 'a-person@'];
    for (const secret of ['secret-of-a-client', 'x-kind', 'kept', 'x=1', ...hidden]) expect(all).not.toContain(secret);
    const recorded = (await client('decision', 'list', '--record', 'alert')).out;
    expect(recorded).toContain('GET herbarium.fennelhill.example/sign-in');
    expect((await client('setting', 'list')).out).toContain(`http://127.0.0.1:${port}/taken?key=of-the-receiver`);
  });

  it('are recorded with all others of their second, whatever characters a client sends', async () => {
    const agents = ['plain-visitor', 'nul-\0-visitor', 'half-\ud800-visitor', 'whole-\u{1f33f}-visitor'];
    for (const agent of agents) expect((await decide(0, '/sign-in', { agent })).verdict).toBe('block');
    const shown = async () => {
      const url = `${(services[0] as TestService).url}`;
      return JSON.stringify(
        (await callApi(url, 'GET', '/api/v1/decisions', undefined, { authorization: `Bearer ${key}` })).body,
      );
    };
    // They are written second by second, and a second may end between two of them.
    for (const agent of ['plain-visitor', 'nul-\ufffd-visitor', 'half-\ufffd-visitor', 'whole-\u{1f33f}-visitor'])
      await expect.poll(shown, { timeout: 8000 }).toContain(agent);
  });

  it('are none lost and none by half a revision while one publish follows the other', { timeout: 60_000 }, async () => {
    let going = true;
    const seen = new Map<number, Set<string>>();
    const asking = [0, 1].map(async (at) => {
      let asked = 0;
      for (; going; asked++) {
        const { revision, rule, verdict } = await decide(at, '/closed');
        seen.set(revision, (seen.get(revision) ?? new Set()).add(`${rule} ${verdict}`));
      }
      return asked;
    });
    for (let at = 0; at < 7; at++)
      await publish(policy(at % 2 === 0 ? 'block' : 'challenge', at % 2 === 0 ? 'even' : 'odd'));
    going = false;
    const asked = await Promise.all(asking);
    expect(Math.min(...asked)).toBeGreaterThan(5);
    for (const shown of seen.values()) expect(shown.size).toBe(1);
    for (const shown of [...seen.values()].flatMap((each) => [...each]))
      expect(['even block', 'odd challenge', 'all block']).toContain(shown);
    expect(seen.size).toBeGreaterThan(1);
  });
});
