import { once } from 'node:events';
import { existsSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { type AddressInfo, connect, createServer, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { callApi, launch, newDatabase, runClient, type TestService } from '../setup/service.js';

/** A service that starts while its database is away: it decides by what was in force, says so, and goes on by itself. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
const sockets = new Set<Socket>();
let way: Server;
let port = 0;
let env: NodeJS.ProcessEnv;
let token: string;
let service: Omit<TestService, 'folder'>;

const POLICY = `policy: herbarium
covers: {hosts: [herbarium.fennelhill.example]}
default: allow
rules:
  - {rule: lent, when: {client: [loans]}, then: block}
  - {rule: closed, when: {path: ["/closed/**"]}, then: block}
  - {rule: abroad, when: {country: [PT]}, then: block}
  - {rule: members, when: {path: [/members]}, then: {unlock: gardeners}}
  - {rule: asked, when: {path: [/asked]}, then: confirm}
---
policy: reading-room
covers: {clients: [10.40.0.0/16]}
destinations: {resolve: true}
default: allow
rules:
  - {rule: there, when: {destination-country: [PT]}, then: block}
---
list: loans
of: addresses
entries: [198.18.4.4, {entry: 198.18.4.5, until: 2020-01-01T00:00:00Z}]
`;

/** The way to the database, which can be taken away. */
async function open(): Promise<void> {
  way = createServer((socket) => {
    const other = connect(join(inject('socketDir'), '.s.PGSQL.5432'));
    for (const each of [socket, other]) {
      sockets.add(each);
      each.on('error', () => undefined).on('close', () => sockets.delete(each));
    }
    socket.pipe(other).pipe(socket);
  }).listen(port, '127.0.0.1');
  await once(way, 'listening');
  port = (way.address() as AddressInfo).port;
}
async function takeAway(): Promise<void> {
  const closed = once(way, 'close');
  way.close();
  for (const socket of sockets) socket.destroy();
  await closed;
}

const decide = (fields: object, by = token) =>
  callApi(
    service.gateUrl,
    'POST',
    '/decide',
    { host: 'herbarium.fennelhill.example', peer: '198.18.9.9', method: 'GET', ...fields },
    { authorization: `Bearer ${by}` },
  );
const start = () => launch(['--port', '0', '--data-dir', folder, '--workers', '1'], env);

beforeAll(async () => {
  await open();
  const database = await newDatabase();
  const name = /@\/(\w+)\?/.exec(database)?.[1];
  env = { ...process.env, DATABASE_URL: `postgres://jade_fence@127.0.0.1:${port}/${name}`, NO_COLOR: '1' };
  service = await start();
  token = await service.gatewayToken();
  await service.call('PUT', '/api/v1/country-data?source=a&date=2026-11-01', '198.18.7.0/24,PT\n');
  await service.call('POST', '/api/v1/resolutions/loads?source=a', 'books.example,198.18.7.9\n');
  await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text: POLICY }] });
  await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true });
  await expectKept();
  await service.stop();
});
afterAll(async () => {
  await service?.stop();
  await takeAway().catch(() => undefined);
  rmSync(folder, { recursive: true, force: true });
});

const file = join(folder, 'in-force.json.gz');
async function expectKept(): Promise<void> {
  for (const end = Date.now() + 10_000; !existsSync(file) && Date.now() < end; ) await sleep(50);
  expect(statSync(file).mode & 0o777).toBe(0o600);
}

describe('a service whose database is away', () => {
  beforeAll(async () => {
    await takeAway();
    service = await start();
  });

  it('decides by the revision that was in force: rules, lists, country data and resolutions', async () => {
    const verdicts = [];
    for (const fields of [
      { path: '/open' },
      { path: '/closed/x' },
      { path: '/open', peer: '198.18.4.4' },
      { path: '/open', peer: '198.18.4.5' },
      { path: '/open', peer: '198.18.7.7' },
      { path: '/', host: 'books.example', peer: '10.40.0.9' },
    ]) {
      const { status, body } = await decide(fields);
      verdicts.push(`${status} ${body.verdict} ${body.rule} ${body.revision}`);
    }
    expect(verdicts).toEqual([
      '200 allow null 1',
      '200 block closed 1',
      '200 block lent 1',
      '200 allow null 1',
      '200 block abroad 1',
      '200 block there 1',
    ]);
  });

  it('knows the tokens of gateways, and lets nobody else in', async () => {
    for (const wrong of ['x'.repeat(43), service.key, ''])
      expect((await decide({ path: '/open' }, wrong)).status).toBe(401);
  });

  it('grants what needs no database, and says of what does that it cannot be had', async () => {
    const grant = (path: string, given: object) => {
      const request = { host: 'herbarium.fennelhill.example', peer: '198.18.9.9', method: 'GET', path };
      const headers = { authorization: `Bearer ${token}` };
      return callApi(service.gateUrl, 'POST', '/decide/grants', { request, ...given }, headers);
    };
    const yes = await grant('/asked', { yes: true });
    expect(yes.status).toBe(201);
    expect((await decide({ path: '/asked', grants: [yes.body.grant] })).body.verdict).toBe('allow');
    expect(await grant('/members', { passcode: 'anything' })).toMatchObject({
      status: 503,
      body: { code: 'database-away' },
    });
  });

  it('says so to all others, and that it lives', async () => {
    for (const path of ['/', '/api/v1/me', '/api/v1/workspace', '/ready'])
      expect(await callApi(service.url, 'GET', path, undefined, {})).toMatchObject({
        status: 503,
        body: { code: 'database-away', remedy: expect.any(String) },
      });
    expect((await callApi(service.url, 'GET', '/health', undefined, {})).status).toBe(200);
  });

  it('goes on with all of it when the database is back, and leaves no request without a decision', async () => {
    let going = true;
    const asking = (async () => {
      const statuses = new Set<number>();
      for (; going; await sleep(5)) statuses.add((await decide({ path: '/closed/x' })).status);
      return statuses;
    })();
    await open();
    const ready = async () => (await callApi(service.url, 'GET', '/ready', undefined, {})).status;
    for (const end = Date.now() + 20_000; (await ready()) !== 200 && Date.now() < end; ) await sleep(100);
    expect((await service.call('GET', '/api/v1/me')).status).toBe(200);
    const text = POLICY.replace('/closed/**', '/shut/**');
    await service.call('POST', '/api/v1/resolutions/loads?source=a', 'books.example,198.18.7.9\n');
    await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text }] });
    await service.call('POST', '/api/v1/revisions', { message: 'Shut', acceptWarnings: true });
    for (const end = Date.now() + 5000; (await decide({ path: '/' })).body.revision !== 2 && Date.now() < end; )
      await sleep(20);
    expect((await decide({ path: '/shut/x' })).body).toMatchObject({ verdict: 'block', revision: 2 });
    going = false;
    expect([...(await asking)]).toEqual([200]);
    await service.stop();
  });
});

describe('a service that cannot start without its database', () => {
  it('says why, where nothing is kept or what is kept cannot be read', async () => {
    await takeAway();
    const serve = (data: string) =>
      runClient(['service', 'run', '--port', '0', '--gate-port', '0', '--data-dir', data], {
        DATABASE_URL: env.DATABASE_URL ?? '',
      });
    const without = await serve(join(folder, 'other'));
    expect([without.code, without.err]).toEqual([3, expect.stringContaining('The database cannot be used')]);
    const plan = { revision: 1, country: null, gateways: [], grantKey: '', passcodes: {} };
    const rules = (text: string) => gzipSync(JSON.stringify({ ...plan, documents: [{ name: 'a', text }] }));
    for (const kept of [
      ...['', 'not what was kept', gzipSync('null'), gzipSync('{"documents":1}')],
      ...[rules('policy: p\ndefault: what-a-later-version-knows\n'), rules(']')],
    ]) {
      writeFileSync(file, kept);
      const broken = await serve(folder);
      expect([broken.code, broken.err]).toEqual([3, expect.stringContaining('The database cannot be used')]);
    }
  });
});
