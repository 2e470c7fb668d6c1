import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, queryDatabase, startService, type TestService } from '../setup/service.js';

/** Who one is taken for: what proves it, what a token opens, when a session ends, and how often one may guess. */
const PROXY = ['127.0.0.1', '::1'];
let service: TestService & { readonly database: string };

beforeAll(async () => {
  service = await startService([
    ...PROXY.flatMap((address) => ['--trust-proxy', address]),
    ...['--public-url', 'https://rules.fennelhill.example'],
  ]);
});
afterAll(() => service?.stop());

const PASSWORD = 'a fern in every gorge';
const as = (secret: string, method: string, path: string, body?: unknown) =>
  callApi(service.url, method, path, body, { authorization: `Bearer ${secret}` });
const add = (name: string, role: string, password?: string) =>
  service.call('POST', '/api/v1/people', { name, role, ...(password === undefined ? {} : { password }) });

/** Tries to sign in from an address, as a proxy names it. */
async function signIn(body: object, from = '203.0.113.7'): Promise<{ status: number; cookie: string; set: string }> {
  const response = await fetch(`${service.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-forwarded-for': from, 'x-forwarded-proto': 'https' },
    body: JSON.stringify(body),
  });
  await response.arrayBuffer();
  const set = response.headers.get('set-cookie') ?? '';
  return { status: response.status, cookie: set.split(';')[0] ?? '', set };
}
const inSession = (cookie: string, method: string, path: string, body?: unknown) =>
  callApi(service.url, method, path, body, { cookie, 'x-jade-fence-console': '1' });

describe('a token', () => {
  it('is no proof of who its person is: it sets no first password, and changes none without the old one', async () => {
    const { secret } = (await service.call('POST', '/api/v1/tokens', { name: 'looks', role: 'viewer' })).body;
    const first = await as(secret, 'PUT', '/api/v1/me/password', { password: 'ours from now on' });
    expect(first).toMatchObject({ status: 403, body: { code: 'session-required' } });
    // Nor does the access key, which is a token too.
    expect((await service.call('PUT', '/api/v1/me/password', { password: 'ours from now on' })).status).toBe(403);
    expect((await signIn({ name: 'administrator', password: 'ours from now on' })).status).toBe(401);
    await add('rosa', 'editor', PASSWORD);
    const { cookie } = await signIn({ name: 'rosa', password: PASSWORD });
    const own = (await inSession(cookie, 'POST', '/api/v1/tokens', { name: 'pipeline' })).body.secret;
    const guessed = await as(own, 'PUT', '/api/v1/me/password', { old: 'not this', password: 'ours from now on' });
    expect(guessed).toMatchObject({ status: 403, body: { code: 'wrong-current-password' } });
  });

  it('makes only what is no more and lives no longer than itself, and deletes nothing above it', async () => {
    await add('tome', 'publisher', PASSWORD);
    const { cookie } = await signIn({ name: 'tome', password: PASSWORD });
    const day = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString();
    const make = (body: object) => inSession(cookie, 'POST', '/api/v1/tokens', body);
    const whole = (await make({ name: 'whole' })).body;
    const brief = (await make({ name: 'brief', role: 'viewer', expires: day(2) })).body;
    const from = (body: object) => as(brief.secret, 'POST', '/api/v1/tokens', body);
    expect(await from({ name: 'a', expires: day(3) })).toMatchObject({
      status: 403,
      body: { code: 'longer-than-own' },
    });
    expect(await from({ name: 'b', role: 'editor' })).toMatchObject({ status: 403, body: { code: 'role-too-high' } });
    expect(await from({ name: 'c', kind: 'gateway' })).toMatchObject({ status: 403, body: { code: 'role-too-low' } });
    const child = await from({ name: 'd' });
    expect(child).toMatchObject({ status: 201, body: { role: 'viewer', expiresAt: brief.expiresAt } });
    expect((await as(brief.secret, 'DELETE', `/api/v1/tokens/${whole.token}`)).status).toBe(404);
    expect((await as(whole.secret, 'GET', '/api/v1/me')).status).toBe(200);
    expect((await as(brief.secret, 'DELETE', `/api/v1/tokens/${brief.token}`)).status).toBe(204);
    expect(await make({ name: 'long', expires: day(367) })).toMatchObject({ status: 422, body: { code: 'too-long' } });
    expect((await make({ name: 'long', expires: day(365) })).status).toBe(201);
  });

  it('that is the last way in of the last administrator stays', async () => {
    const { tokens } = (await service.call('GET', '/api/v1/tokens')).body;
    const key = tokens.find(({ name }: { name: string }) => name === 'access key') ?? tokens[0];
    for (const { token, role } of tokens)
      if (token !== key.token && role === 'administrator') await service.call('DELETE', `/api/v1/tokens/${token}`);
    expect(await service.call('DELETE', `/api/v1/tokens/${key.token}`)).toMatchObject({
      status: 409,
      body: { code: 'last-administrator' },
    });
    expect((await service.call('GET', '/api/v1/people')).status).toBe(200);
  });

  it('of a gateway is nobody here, and a person’s decides nothing there', async () => {
    const gateway = await service.gatewayToken();
    for (const [method, path] of [
      ['GET', '/api/v1/me'],
      ['GET', '/api/v1/workspace'],
      ['POST', '/api/v1/tokens'],
      ['PUT', '/api/v1/me/password'],
    ] as const)
      expect((await as(gateway, method, path, method === 'GET' ? undefined : {})).status).toBe(401);
    expect((await signIn({ key: gateway })).status).toBe(401);
    for (const path of ['/decide', '/gate']) {
      const asked = await fetch(`${service.gateUrl}${path}`, {
        method: path === '/gate' ? 'GET' : 'POST',
        headers: { authorization: `Bearer ${service.key}` },
      });
      expect(asked.status).toBe(401);
    }
  });
});

describe('a session', () => {
  it('is in a cookie that goes nowhere but here, where the service is reached by https', async () => {
    const { set } = await signIn({ name: 'rosa', password: PASSWORD });
    expect(set).toMatch(/^__Host-jade_fence_session=/);
    for (const part of ['Path=/', 'HttpOnly', 'Secure', 'SameSite=Strict']) expect(set).toContain(part);
    expect(set).not.toContain('Domain');
  });

  it('ends with the token that opened it', async () => {
    const { secret, token } = (await service.call('POST', '/api/v1/tokens', { name: 'opens', role: 'administrator' }))
      .body;
    const { cookie } = await signIn({ key: secret });
    const me = () => inSession(cookie, 'GET', '/api/v1/me');
    expect((await me()).status).toBe(200);
    await queryDatabase(service.database, `update tokens set expires_at = now() where id = ${token}`);
    expect((await me()).status).toBe(401);
    await queryDatabase(
      service.database,
      `update tokens set expires_at = now() + interval '1 day' where id = ${token}`,
    );
    expect((await me()).status).toBe(200);
    await service.call('DELETE', `/api/v1/tokens/${token}`);
    expect((await me()).status).toBe(401);
  });

  it('ends when nobody has used it for two hours', async () => {
    const { cookie } = await signIn({ name: 'rosa', password: PASSWORD });
    const unused = (minutes: number) =>
      queryDatabase(service.database, `update sessions set used_at = now() - interval '${minutes} minutes'`);
    await unused(119);
    expect((await inSession(cookie, 'GET', '/api/v1/me')).status).toBe(200);
    await unused(121);
    expect((await inSession(cookie, 'GET', '/api/v1/me')).status).toBe(401);
  });

  it('is listed to its person alone, with where it is from, and ended one by one or everywhere', async () => {
    const opened = [];
    for (const from of ['203.0.113.20', '203.0.113.21', '203.0.113.22'])
      opened.push((await signIn({ name: 'rosa', password: PASSWORD }, from)).cookie);
    const [one, two, three] = opened as [string, string, string];
    const { sessions } = (await inSession(one, 'GET', '/api/v1/me/sessions')).body;
    expect(sessions.map(({ from }: { from: string }) => from)).toEqual([
      '203.0.113.22',
      '203.0.113.21',
      '203.0.113.20',
    ]);
    expect(JSON.stringify(sessions)).not.toContain(one.split('=')[1]);
    expect((await service.call('DELETE', `/api/v1/me/sessions/${sessions[0].session}`)).status).toBe(404);
    expect((await inSession(one, 'DELETE', `/api/v1/me/sessions/${sessions[0].session}`)).status).toBe(204);
    expect((await inSession(three, 'GET', '/api/v1/me')).status).toBe(401);
    expect((await inSession(one, 'DELETE', '/api/v1/me/sessions')).status).toBe(204);
    for (const cookie of [one, two]) expect((await inSession(cookie, 'GET', '/api/v1/me')).status).toBe(401);
  });
});

describe('guessing', () => {
  it('by a stranger does not lock out who is somewhere else, and is counted by address', async () => {
    await add('lia', 'viewer', PASSWORD);
    const statuses: number[] = [];
    for (let at = 0; at < 60; at++)
      statuses.push((await signIn({ name: 'lia', password: `guess ${at}` }, '198.18.9.9')).status);
    expect(statuses.slice(0, 10)).toEqual(Array(10).fill(401));
    expect(statuses.slice(10)).toEqual(Array(50).fill(429));
    expect((await signIn({ name: 'lia', password: PASSWORD }, '203.0.113.30')).status).toBe(201);
    // Nor has anyone else who comes from where the stranger is.
    expect((await signIn({ name: 'rosa', password: PASSWORD }, '198.18.9.10')).status).toBe(201);
  });

  it('from one site of IPv6 counts as from one address, however many it has', async () => {
    const statuses: number[] = [];
    for (let at = 1; at < 14; at++)
      statuses.push((await signIn({ name: 'lia', password: 'guess' }, `2001:db8:40:7::${at}`)).status);
    expect(statuses).toEqual([...Array(10).fill(401), ...Array(3).fill(429)]);
    expect((await signIn({ name: 'lia', password: 'guess' }, '2001:db8:40:8::1')).status).toBe(401);
  });

  it('is counted in the database, so that all services on it count together', async () => {
    const rows = await queryDatabase(service.database, 'select key, points from tries');
    expect(rows.length).toBeGreaterThan(0);
    expect(JSON.stringify(rows)).not.toContain('lia');
  });

  it('is held up where an old password is required, too', async () => {
    await add('noa', 'viewer', PASSWORD);
    const { cookie } = await signIn({ name: 'noa', password: PASSWORD }, '203.0.113.40');
    const statuses: number[] = [];
    for (let at = 0; at < 12; at++)
      statuses.push(
        (await inSession(cookie, 'PUT', '/api/v1/me/password', { old: `guess ${at}`, password: 'ours from now on' }))
          .status,
      );
    expect(statuses).toEqual([...Array(10).fill(403), 429, 429]);
  });

  it('believes no address but from the proxy', async () => {
    const direct = await startService();
    try {
      const tries: number[] = [];
      for (let at = 0; at < 12; at++)
        tries.push(
          (
            await callApi(
              direct.url,
              'POST',
              '/api/v1/session',
              { name: 'x', password: 'y' },
              { 'x-forwarded-for': `203.0.113.${at}` },
            )
          ).status,
        );
      expect(tries).toEqual([...Array(10).fill(401), 429, 429]);
      await sleep(0);
    } finally {
      await direct.stop();
    }
  });
});
