import { connect } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, startService, type TestService } from '../setup/service.js';

/** The listener of live decisions, asked in every way that a client or a careless gateway may ask it. */
let service: TestService;
let token: string;

const POLICY = `policy: herbarium
covers: {hosts: [herbarium.fennelhill.example]}
client: {from: forwarded, trust: [10.10.1.0/24]}
default: allow
rules:
  - {rule: keyless, when: {path: [/keys/**], header.x-api-key: absent}, then: block}
  - {rule: posts, when: {path: [/posts/**], method: [POST]}, then: block}
  - {rule: signed-in, when: {path: [/own/**], header.authorization: absent}, then: block}
  - {rule: back-office, when: {path: ["/back-office/**"]}, then: {block: {status: 451, notice: closed}}}
  - {rule: moved, when: {path: [/old]}, then: {redirect: "https://www.fennelhill.example/new"}}
  - rule: flood
    when: {path: [/sign-in]}
    limit: {more-than: 2, within: 1h, per: [client]}
    then: {confirm: {for: 1h}}
  - {rule: members, when: {path: [/members]}, then: {unlock: {passcode: gardeners, for: 1h}}}
  - {rule: browsers, when: {path: [/browsers]}, then: challenge}
---
notice: closed
title: Closed
`;

const TOLD = {
  'x-forwarded-method': 'GET',
  'x-forwarded-proto': 'https',
  'x-forwarded-host': 'herbarium.fennelhill.example',
  'x-forwarded-uri': '/open',
  'x-forwarded-for': '198.18.4.99',
};

beforeAll(async () => {
  service = await startService();
  expect((await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text: POLICY }] })).status).toBe(
    200,
  );
  expect((await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true })).status).toBe(201);
  token = await service.gatewayToken();
  while ((await service.ask('POST', '/decide', { host: 'a.example' })).status !== 200) await sleep(20);
});
afterAll(() => service?.stop());

const gate = (path: string, more: Record<string, string> = {}, call = '/gate') =>
  fetch(`${service.gateUrl}${call}`, {
    redirect: 'manual',
    headers: { authorization: `Bearer ${token}`, ...TOLD, 'x-forwarded-uri': path, ...more },
  });

/** Sends bytes as they are, and answers the statuses of all answers that come within a moment. */
function raw(port: number, text: string): Promise<number[]> {
  return new Promise((done) => {
    let answer = '';
    const socket = connect(port, '127.0.0.1', () => socket.write(text));
    socket.on('data', (piece) => {
      answer += piece.toString('latin1');
    });
    const end = () => done([...answer.matchAll(/HTTP\/1\.1 (\d{3})/g)].map(([, status]) => Number(status)));
    socket.on('close', end).on('error', end);
    setTimeout(() => socket.destroy(), 400);
  });
}

describe('nothing but a decision says "go on"', () => {
  const words = Object.entries(TOLD)
    .map(([name, value]) => `${name}: ${value}\r\n`)
    .join('');
  const blocked = words.replace('/open', '/back-office/x');
  const authorized = () => `authorization: Bearer ${token}\r\n`;
  const host = 'Host: 127.0.0.1\r\n';
  const paths = [
    ...['/', '/gate/', '/gate?x', '/gate?answer=403&x', '/Gate', '/GATE', '//gate', '/gate/..', '/./gate', '/gate#x'],
    ...[
      '/gate%20',
      '/%67ate',
      '/auth',
      '/decide',
      '/decide/',
      '/decide/grants',
      '/notice/',
      '/notice/a.b',
      '/notice/x',
    ],
    ...['/api/v1/me', '/health', '/ready', '/policies', '/index.html', '/favicon.ico', '/.jade-fence/notice/a.b', '*'],
    ...['http://127.0.0.1/gate', 'http://herbarium.fennelhill.example/open', '/gate\\', '/gate;x', '/gate?', '/\0gate'],
  ];
  const methods = ['GET', 'HEAD', 'POST', 'PUT', 'DELETE', 'OPTIONS', 'PATCH', 'TRACE', 'PROPFIND', 'FOO'];

  it('whatever the path and the method, with the token and a request that would be let through', async () => {
    const port = Number(new URL(service.gateUrl).port);
    const asked = methods.flatMap((method) => [...paths, '/gate', '/gate?answer=403'].map((path) => [method, path]));
    const decisions = new Set(['GET /gate', 'GET /gate?answer=403']);
    for (const [method, path] of asked as [string, string][]) {
      const call = `${method} ${path} HTTP/1.1\r\n${host}${authorized()}${words}Connection: close\r\n\r\n`;
      const statuses = await raw(port, call);
      const let2 = statuses.filter((status) => status >= 200 && status < 300);
      expect([method, path, let2]).toEqual([method, path, decisions.has(`${method} ${path}`) ? [204] : []]);
    }
  });

  it.each<[string, () => string]>([
    ['without a token', () => `GET /gate HTTP/1.1\r\n${host}${words}\r\n`],
    ['with another scheme', () => `GET /gate HTTP/1.1\r\n${host}authorization: Basic ${token}\r\n${words}\r\n`],
    ['with the access key', () => `GET /gate HTTP/1.1\r\n${host}authorization: Bearer ${service.key}\r\n${words}\r\n`],
    ['with two tokens', () => `GET /gate HTTP/1.1\r\n${host}authorization: Bearer a\r\n${authorized()}${words}\r\n`],
    ['in HTTP/1.0', () => `GET /gate HTTP/1.0\r\n${words}\r\n`],
    ['with an expectation', () => `GET /gate HTTP/1.1\r\n${host}Expect: 100-continue\r\n${words}\r\n`],
    [
      'with an expectation, and blocked',
      () => `GET /gate HTTP/1.1\r\n${host}${authorized()}Expect: 100-continue\r\n${blocked}\r\n`,
    ],
    ['with another expectation', () => `GET /gate HTTP/1.1\r\n${host}${authorized()}Expect: 200-ok\r\n${words}\r\n`],
    [
      'with two lengths',
      () => `POST /decide HTTP/1.1\r\n${host}${authorized()}Content-Length: 2\r\nContent-Length: 3\r\n\r\n{}`,
    ],
    [
      'with a length and chunks',
      () =>
        `POST /decide HTTP/1.1\r\n${host}${authorized()}Content-Length: 2\r\nTransfer-Encoding: chunked\r\n\r\n2\r\n{}\r\n0\r\n\r\n`,
    ],
    [
      'in chunks with trailers',
      () =>
        `POST /gate HTTP/1.1\r\n${host}${authorized()}${words}Transfer-Encoding: chunked\r\nTrailer: x\r\n\r\n0\r\nx-forwarded-uri: /open\r\n\r\n`,
    ],
    [
      'that upgrades',
      () => `GET /decide HTTP/1.1\r\n${host}${authorized()}${words}Connection: upgrade\r\nUpgrade: websocket\r\n\r\n`,
    ],
    ['that connects', () => `CONNECT 127.0.0.1:80 HTTP/1.1\r\n${host}${authorized()}${words}\r\n`],
    [
      'one behind the other, blocked',
      () =>
        `GET /gate HTTP/1.1\r\n${host}${authorized()}${blocked}\r\nGET /gate/ HTTP/1.1\r\n${host}${authorized()}${words}\r\n`,
    ],
    [
      'with a folded header',
      () => `GET /gate HTTP/1.1\r\n${host}${authorized()}x-forwarded-uri: /back-office/x\r\n /open\r\n\r\n`,
    ],
    ['that is no HTTP', () => `\x16\x03\x01\x02\r\n\r\n`],
  ])('for a call %s', async (_, text) => {
    const statuses = await raw(Number(new URL(service.gateUrl).port), text());
    expect(statuses.filter((status) => status >= 200 && status < 300)).toEqual([]);
  });

  it('nor does the port of the console and the API', async () => {
    const port = Number(new URL(service.url).port);
    for (const path of [
      '/gate',
      '/gate/',
      '/gate?x',
      '/Gate',
      '/auth',
      '/decide',
      '/decide/grants',
      '/notice/x',
      '/nothing',
    ])
      for (const method of ['GET', 'POST', 'HEAD'])
        for (const expectation of ['', 'Expect: 100-continue\r\n'])
          for (const key of [token, service.key]) {
            const call = `${method} ${path} HTTP/1.1\r\n${host}authorization: Bearer ${key}\r\n${expectation}accept: text/html\r\n${words}Content-Length: 0\r\nConnection: close\r\n\r\n`;
            const statuses = await raw(port, call);
            expect([method, path, statuses.filter((status) => status !== 100)]).toEqual([method, path, [404]]);
          }
  });
});

describe('a token of a gateway', () => {
  it('opens live decisions and nothing else, and no other token opens those', async () => {
    const authorization = `Bearer ${token}`;
    for (const path of [
      '/api/v1/me',
      '/api/v1/workspace',
      '/api/v1/decisions',
      '/api/v1/tokens',
      '/api/v1/openapi.json',
    ])
      expect((await callApi(service.url, 'GET', path, undefined, { authorization })).status).toBe(401);
    expect((await callApi(service.url, 'POST', '/api/v1/session', { key: token }, {})).status).toBe(401);
    const viewer = (await service.call('POST', '/api/v1/tokens', { name: 'viewer', role: 'viewer' })).body.secret;
    for (const key of [service.key, viewer])
      expect(
        (await callApi(service.gateUrl, 'POST', '/decide', { host: 'a.example' }, { authorization: `Bearer ${key}` }))
          .status,
      ).toBe(401);
    const asViewer = { authorization: `Bearer ${viewer}` };
    const made = await callApi(service.url, 'POST', '/api/v1/tokens', { name: 'own', kind: 'gateway' }, asViewer);
    expect([made.status, made.body.code]).toEqual([403, 'role-too-low']);
  });

  it('is marked in the list, and opens nothing once it is deleted', async () => {
    const made = (await service.call('POST', '/api/v1/tokens', { name: 'side-gate', kind: 'gateway' })).body;
    expect(made).toMatchObject({ kind: 'gateway', person: null, role: null });
    expect((await service.client('token', 'list', '--all')).out).toMatch(/side-gate +a gateway +· /);
    expect((await service.call('DELETE', `/api/v1/tokens/${made.token}`)).status).toBe(204);
    const headers = { authorization: `Bearer ${made.secret}` };
    expect((await callApi(service.gateUrl, 'POST', '/decide', { host: 'a.example' }, headers)).status).toBe(401);
  });
});

describe('the original request', () => {
  it('is read as servers read it, however its target is written', async () => {
    const ways = [
      ...['/back-office/x', '//back-office/x', '/\\back-office/x', '/x/../back-office/x', '/x//../back-office/x'],
      ...['/%62ack-office/x', '/%2e/back-office/x', '/back-office/%2%65%2%65/x', '/back-office/.%2%65/x'],
      ...['http://herbarium.fennelhill.example/back-office/x', 'back-office/x', '/back-office/x?y', '/back-office//x'],
    ];
    for (const way of ways) expect([way, (await gate(way)).status]).toEqual([way, 451]);
    for (const other of ['/back-officex', '/x/back-office/y', '/back-office'])
      expect([other, (await gate(other)).status]).toEqual([other, 204]);
  });

  it('is refused where its target names another host than its header', async () => {
    for (const uri of [
      'http://open.example/back-office/x',
      'http://herbarium.fennelhill.example@open.example/x',
      'http:///x',
    ])
      expect((await gate(uri)).status).toBe(400);
    for (const [name, value] of [
      ['x-forwarded-host', 'no host'],
      ['x-forwarded-for', 'nobody'],
      ['x-forwarded-for', ''],
      ['x-forwarded-uri', ''],
    ] as const)
      expect([name, value, (await gate('/open', { [name]: value })).status]).toEqual([name, value, 400]);
  });

  it('has unseen what is not given: its method, and the authorization that the gateway puts its own over', async () => {
    const { 'x-forwarded-method': _, ...words } = TOLD;
    const asked = (headers: Record<string, string>) =>
      fetch(`${service.gateUrl}/gate`, { headers: { authorization: `Bearer ${token}`, ...words, ...headers } });
    const postless = await asked({ 'x-forwarded-uri': '/posts/1' });
    expect([postless.status, postless.headers.get('x-jade-fence-rule')]).toEqual([204, 'herbarium/default']);
    expect((await gate('/posts/1', { 'x-forwarded-method': 'POST' })).status).toBe(403);
    expect((await gate('/own/x')).status).toBe(204);
    expect((await gate('/own/x', { 'x-forwarded-authorization': 'Basic abc' })).status).toBe(204);
    expect((await gate('/keys/x')).status).toBe(403);
    expect((await gate('/keys/x', { 'x-api-key': 'any' })).status).toBe(204);
    const keyless = async (headers: object) =>
      (await service.ask('POST', '/decide', { host: 'herbarium.fennelhill.example', path: '/keys/x', headers })).body
        .effect;
    expect([await keyless({ 'x-api-key': '\u0001' }), await keyless({ 'x-api-key': '\0' })]).toEqual([
      'allow',
      'allow',
    ]);
    expect([await keyless({}), (await gate('/keys/x')).status]).toEqual(['block', 403]);
  });

  it('has the client that proxies name, whatever it sends itself', async () => {
    const through = (header: string) => gate('/open', { 'x-forwarded-for': header });
    for (const left of ['"', 'unknown', `${'1.2.3.4,'.repeat(500)}`, ',,', '", 10.10.1.4'])
      expect((await through(`${left}, 198.18.4.99, 10.10.1.9`)).status).toBe(204);
  });
});

describe('grants', () => {
  const granted = async (path: string, given: object) => {
    const request = { peer: '198.18.4.99', host: 'herbarium.fennelhill.example', path, method: 'GET' };
    return service.ask('POST', '/decide/grants', { request, ...given });
  };

  it('that are malformed are none', async () => {
    const seed = (
      await service.ask('POST', '/decide', {
        peer: '2001:db8::9',
        host: 'herbarium.fennelhill.example',
        path: '/browsers',
      })
    ).body.answer.asks.seed;
    for (const grant of [
      `a.${'\u00e9'.repeat(43)}`,
      ...['a.', '.', '..', 'a.b.c', 'a'.repeat(9000), `challenge.${seed}`, `x.${seed}`, '~~', '__proto__.x'],
    ]) {
      const cookie = `jade_fence_grants=${encodeURI(grant)}`;
      expect([grant, (await gate('/open', { cookie })).status]).toEqual([grant, 204]);
      expect((await gate('/browsers', { cookie })).status).toBe(403);
      const body = { peer: '198.18.4.99', host: 'herbarium.fennelhill.example', path: '/browsers', grants: [grant] };
      expect((await service.ask('POST', '/decide', body)).body.effect).toBe('challenge');
    }
  });

  it('are given for a limit that is over, by its present count', async () => {
    const sign = () => gate('/sign-in');
    expect([(await sign()).status, (await sign()).status, (await sign()).status]).toEqual([204, 204, 403]);
    const { status, body } = await granted('/sign-in', { yes: true });
    expect(status).toBe(201);
    expect((await gate('/sign-in', { cookie: `jade_fence_grants=${body.grant}` })).status).toBe(204);
    expect(
      (await gate('/sign-in', { cookie: `jade_fence_grants=${body.grant}`, 'x-forwarded-for': '198.18.4.98' })).status,
    ).toBe(204);
    expect((await sign()).status).toBe(403);
  });

  it('by a passcode end when it is set anew, and all when their key is', async () => {
    const set = (passcode: string) => service.call('PUT', '/api/v1/passcodes/gardeners', { passcode });
    await set('moss on stone');
    expect((await granted('/members', { passcode: 'moss' })).status).toBe(403);
    const { grant } = (await granted('/members', { passcode: 'moss on stone' })).body;
    const members = () => gate('/members', { cookie: `jade_fence_grants=${grant}` }).then(({ status }) => status);
    await expect.poll(members).toBe(204);
    await set('moss on bark');
    await expect.poll(members).toBe(403);
    const again = (await granted('/members', { passcode: 'moss on bark' })).body.grant;
    const anew = () => gate('/members', { cookie: `jade_fence_grants=${again}` }).then(({ status }) => status);
    await expect.poll(anew).toBe(204);
    expect((await service.client('grant', 'remove')).code).toBe(4);
    expect((await service.client('grant', 'remove', '--yes')).code).toBe(0);
    await expect.poll(anew).toBe(403);
    const audit = (await service.client('audit', 'list', '--json')).out;
    for (const action of ['passcode-given', 'passcode-wrong', 'grants-ended']) expect(audit).toContain(`"${action}"`);
  });
});

describe('calls', () => {
  it('are admitted before their body is read, and closed where it is too large or never whole', async () => {
    const port = Number(new URL(service.gateUrl).port);
    const post = (headers: string, body = '') => raw(port, `POST /decide HTTP/1.1\r\nHost: x\r\n${headers}\r\n${body}`);
    expect(await post('Content-Length: 50\r\n')).toEqual([401]);
    expect(await post(`Expect: 100-continue\r\nContent-Length: 50\r\n`)).toEqual([401]);
    // With the body at hand no client is asked to send it; else it is, once admitted.
    const asked = await post(`authorization: Bearer ${token}\r\nExpect: 100-continue\r\nContent-Length: 2\r\n`, '{}');
    expect(asked.filter((status) => status !== 100)).toEqual([422]);
    expect(await post(`authorization: Bearer ${token}\r\nContent-Length: 70000\r\n`)).toEqual([413]);
    const large = `authorization: Bearer ${token}\r\nTransfer-Encoding: chunked\r\n`;
    expect(await post(large, `11170\r\n${'x'.repeat(70_000)}\r\n`)).toEqual([413]);
  });

  it('for a gateway that knows no more than 403 put the rest in headers', async () => {
    const plain = (path: string, more = {}) => gate(path, more, '/gate?answer=403');
    expect((await plain('/open')).status).toBe(204);
    const closed = await plain('/back-office/x');
    expect([closed.status, closed.headers.get('x-jade-fence-status')]).toEqual([403, '451']);
    const notice = (path: string, headers = {}) =>
      fetch(`${service.gateUrl}${path}`, {
        redirect: 'manual',
        headers: { authorization: `Bearer ${token}`, ...headers },
      });
    const address = closed.headers.get('x-jade-fence-notice') ?? '';
    const shown = await notice(address, { accept: 'text/html' });
    expect([shown.status, (await shown.text()).includes('<h1>Closed</h1>')]).toEqual([451, true]);
    expect((await notice(`${address}x`)).status).toBe(404);
    expect((await fetch(`${service.gateUrl}${address}`)).status).toBe(401);
    const moved = await plain('/old');
    expect(moved.headers.get('x-jade-fence-location')).toBe('https://www.fennelhill.example/new');
    expect((await notice(moved.headers.get('x-jade-fence-notice') ?? '')).status).toBe(302);
    const failed = await plain('/open', { 'x-forwarded-host': 'no host' });
    expect([failed.status, failed.headers.get('x-jade-fence-status')]).toEqual([403, '400']);
    expect((await notice(failed.headers.get('x-jade-fence-notice') ?? '')).status).toBe(400);
    expect((await fetch(`${service.gateUrl}/gate?answer=403`)).status).toBe(403);
  });
});
