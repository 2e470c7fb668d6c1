import { once } from 'node:events';
import { rmSync, writeFileSync } from 'node:fs';
import { type ClientRequest, type IncomingMessage, request } from 'node:http';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { launch, newDatabase, queryDatabase, type TestService } from '../setup/service.js';

type Service = Omit<TestService, 'folder'>;

const HAND_OVER = { prefer: 'respond-async' };
const REQUESTS = 100_000;

function lines(count: number): string {
  return Array.from({ length: count }, (_, at) => {
    const peer = `198.18.${(at >> 8) & 255}.${at & 255}`;
    return `{"peer":"${peer}","host":"tickets.fennelhill.example","path":"/beds/${at % 997}","method":"GET"}\n`;
  }).join('');
}

const LONG = lines(REQUESTS);
let folder: string;
let env: NodeJS.ProcessEnv & { DATABASE_URL: string };
let first: Service;
const started: Service[] = [];

async function start(...args: readonly string[]): Promise<Service> {
  const service = await launch(['--port', '0', '--data-dir', folder, ...args], env);
  started.push(service);
  return service;
}

const query = (sql: string) => queryDatabase(env.DATABASE_URL, sql);

beforeAll(async () => {
  folder = openFolder();
  env = { ...process.env, DATABASE_URL: await newDatabase('plain user'), NO_COLOR: '1' };
  first = await start();
});
afterEach(async () => {
  // Nothing of what was sent stays when its import has ended.
  for (const end = Date.now() + 10_000; Date.now() < end; await sleep(50))
    if ((await underWay(first)).length === 0) break;
  expect(await query('select count(*)::int as count from import_pieces')).toEqual([{ count: 0 }]);
});
afterAll(async () => {
  for (const service of started) await service.stop();
  rmSync(folder, { recursive: true, force: true });
});

const handOver = async (service: Service, name: string, text = LONG): Promise<number> => {
  const { status, body } = await service.call('POST', `/api/v1/logs?name=${name}`, text, HAND_OVER);
  expect([status, body.log, body.held]).toEqual([202, name, true]);
  return body.id;
};
const importOf = async (service: Service, id: number) => (await service.call('GET', `/api/v1/imports/${id}`)).body;
const underWay = async (service: Service) =>
  (await service.call('GET', '/api/v1/imports')).body.imports.filter(({ state }: { state: string }) =>
    ['waiting', 'running'].includes(state),
  );

async function ended(service: Service, id: number) {
  for (const end = Date.now() + 45_000; Date.now() < end; await sleep(50)) {
    const body = await importOf(service, id);
    if (body.state !== 'waiting' && body.state !== 'running') return body;
  }
  throw new Error(`import ${id} does not end`);
}

/** A sender that sends the start of a log, and the rest on a signal. */
interface SlowSender {
  readonly call: ClientRequest;
  /** What the service answers. */
  readonly answer: Promise<{ status: number; body: { code?: string; requests?: number } }>;
}

interface Slowly {
  readonly headers?: object;
  /** What it begins with. */
  readonly start?: string | Buffer;
}

async function sendSlowly(
  service: Service,
  name: string,
  { headers, start = lines(1000) }: Slowly = {},
): Promise<SlowSender> {
  const call = request(new URL(`${service.url}/api/v1/logs?name=${name}`), {
    method: 'POST',
    agent: false,
    headers: { authorization: `Bearer ${service.key}`, ...headers },
  });
  let answered = false;
  const answer = new Promise<IncomingMessage>((resolve, reject) =>
    call.on('response', resolve).on('error', reject),
  ).then(async (response) => {
    answered = true;
    let text = '';
    for await (const piece of response) text += piece;
    return { status: response.statusCode ?? 0, body: JSON.parse(text) };
  });
  answer.catch(() => undefined);
  call.write(start);
  for (const end = Date.now() + 10_000; Date.now() < end && !answered; await sleep(20))
    if ((await underWay(service)).some(({ log }: { log: string }) => log === name)) break;
  return { call, answer };
}

/** Has no service a hand free for what is handed over, until the senders end. */
async function busy(service: Service, name: string): Promise<SlowSender[]> {
  return [await sendSlowly(service, `${name}-a`), await sendSlowly(service, `${name}-b`)];
}

async function letEnd(senders: readonly SlowSender[]): Promise<void> {
  for (const { call, answer } of senders) {
    call.end();
    expect(await answer).toMatchObject({ status: 201, body: { requests: 1000 } });
  }
}

describe('a log that is handed over', () => {
  it('is imported by itself, and says where it is', async () => {
    const id = await handOver(first, 'by-itself');
    expect(await ended(first, id)).toMatchObject({ log: 'by-itself', state: 'done', failure: null });
    const { body } = await first.call('GET', '/api/v1/logs/by-itself');
    expect(body).toMatchObject({ requests: REQUESTS, rejected: 0, bytes: LONG.length });
    const audit = (await first.call('GET', '/api/v1/audit?action=log-imported&limit=1000')).body.entries;
    expect(audit.filter(({ name }: { name: string }) => name === 'by-itself')).toHaveLength(1);
  });

  it('is taken by any service on the database, and is the same log whoever takes it', async () => {
    const second = await start();
    const senders = await busy(first, 'any');
    const ids: number[] = [];
    for (let count = 0; count < 6; count++) ids.push(await handOver(first, `any-${count}`));
    for (const id of ids) expect(await ended(second, id)).toMatchObject({ state: 'done' });
    expect(await query(`select distinct run_by from imports where id in (${ids})`)).toHaveLength(2);
    const logs = await query(`select distinct requests, content_hash from logs where name ~ '^any-[0-9]'`);
    expect(logs).toMatchObject([{ requests: REQUESTS }]);
    await letEnd(senders);
    await second.stop();
  });

  it('outlasts the service that was killed over it', async () => {
    const second = await start();
    const ids: number[] = [];
    for (let count = 0; count < 3; count++) ids.push(await handOver(second, `killed-${count}`));
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');
    for (const id of ids) expect(await ended(first, id)).toMatchObject({ state: 'done' });
    const kept = await query(
      `select name, sum(rows)::int as rows from log_chunks join logs on id = log_id where name ~ '^killed' group by 1`,
    );
    expect(kept.map(({ rows }) => rows)).toEqual([REQUESTS, REQUESTS, REQUESTS]);
  });

  it('goes on when the service that stopped over it is there again', async () => {
    await first.stop();
    const alone = await start();
    const ids: number[] = [];
    for (let count = 0; count < 3; count++) ids.push(await handOver(alone, `stopped-${count}`));
    await alone.stop();
    first = await start();
    for (const id of ids) expect(await ended(first, id)).toMatchObject({ state: 'done' });
  });

  it('reports its progress to whoever looks, as server-sent events', async () => {
    const second = await start();
    const id = await handOver(first, 'watched', lines(2 * REQUESTS));
    const response = await fetch(`${second.url}/api/v1/imports/${id}/progress`, {
      headers: { authorization: `Bearer ${second.key}` },
    });
    expect(response.headers.get('content-type')).toContain('text/event-stream');
    const events = (await response.text()).split('\n\n').filter((event) => event.startsWith('event: progress\n'));
    const bodies = events.map((event) => JSON.parse(event.slice(event.indexOf('data: ') + 6)));
    expect(bodies.at(-1)).toMatchObject({ id, log: 'watched', state: 'done', actor: 'administrator' });
    expect(bodies.at(-1).done).toBe(bodies.at(-1).total);
    expect(bodies.map(({ done }) => done)).toEqual(bodies.map(({ done }) => done).toSorted((a, b) => a - b));
    await second.stop();
  });

  it('of which nothing can be read says so, and leaves nothing', async () => {
    const senders = await busy(first, 'nothing');
    const id = await handOver(first, 'nonsense', 'this is\nno log\n');
    expect(await ended(first, id)).toMatchObject({
      state: 'failed',
      failure: { code: 'no-readable-lines', issues: [{ path: 'line 1' }, { path: 'line 2' }] },
    });
    expect((await first.call('GET', '/api/v1/logs/nonsense')).status).toBe(404);
    await handOver(first, 'nonsense', lines(10));
    await letEnd(senders);
  });

  it('is cancelled while it waits and while it runs, whoever is asked', async () => {
    const second = await start();
    const senders = await busy(first, 'stops');
    const names = Array.from({ length: 8 }, (_, at) => `cancelled-${at}`);
    const ids = await Promise.all(names.map((name) => handOver(first, name)));
    const answers = await Promise.all(ids.map((id) => second.call('POST', `/api/v1/imports/${id}/cancel`, {})));
    const cancelled = answers.filter(({ body }) => body.state === 'cancelled').map(({ body }) => `'${body.log}'`);
    expect(cancelled.length).toBeGreaterThan(1);
    expect(await query(`select name from logs where name in (${cancelled})`)).toEqual([]);
    await letEnd(senders);
    await second.stop();
  });

  it('needs a sender that stays until all of it is here', async () => {
    const { call } = await sendSlowly(first, 'left', { headers: HAND_OVER });
    const [{ id }] = await underWay(first);
    call.destroy();
    expect(await ended(first, id)).toMatchObject({ state: 'failed', failure: { code: 'aborted' } });
  });

  it('is not waited for in vain where its sender and its service are gone', async () => {
    const second = await start();
    const { call } = await sendSlowly(second, 'gone', { headers: HAND_OVER });
    const [{ id }] = await underWay(first);
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');
    call.destroy();
    expect(await ended(first, id)).toMatchObject({ state: 'failed', failure: { code: 'aborted' } });
  });
});

describe('a log that is waited for', () => {
  it('is read when it is its turn, where the service has no hand free', async () => {
    const senders = await busy(first, 'turn');
    const { status, body } = await first.call('POST', '/api/v1/logs?name=turn', LONG);
    expect([status, body.requests]).toEqual([201, REQUESTS]);
    await letEnd(senders);
  });

  it.each([
    ['as it is sent', {}],
    ['as it is handed over', HAND_OVER],
  ])('can be cancelled %s, and its sender hears of it', async (_, headers) => {
    const { answer } = await sendSlowly(first, 'cancelled', { headers });
    const [{ id }] = await underWay(first);
    const { body } = await first.call('POST', `/api/v1/imports/${id}/cancel`, {});
    expect(body.state).toMatch(/^(?:cancelled|failed)$/);
    expect(await answer).toMatchObject({ status: 409, body: { code: 'import-cancelled' } });
  });

  it('can be cancelled while it is only kept, and its sender hears at once', async () => {
    const senders = await busy(first, 'kept');
    const { answer } = await sendSlowly(first, 'only-kept', { headers: HAND_OVER });
    const { id } = (await underWay(first)).find(({ log }: { log: string }) => log === 'only-kept');
    expect((await first.call('POST', `/api/v1/imports/${id}/cancel`, {})).body.state).toBe('cancelled');
    expect(await answer).toMatchObject({ status: 409, body: { code: 'import-cancelled' } });
    await letEnd(senders);
  });

  it('keeps its name to itself from the start', async () => {
    const sender = await sendSlowly(first, 'same');
    const { status, body } = await first.call('POST', '/api/v1/logs?name=same', lines(10));
    expect([status, body.code]).toEqual([409, 'import-under-way']);
    await letEnd([sender]);
  });

  it('is refused at once where its start shows that it is none, however much is still to come', async () => {
    const start = Buffer.concat([Buffer.from([0xfd, 0x37, 0x7a, 0x58, 0x5a]), Buffer.alloc(100_000)]);
    const { answer } = await sendSlowly(first, 'packed', { start });
    expect(await answer).toMatchObject({ status: 415, body: { code: 'compressed-log' } });
  });
});

describe('the client', () => {
  it('hands a log over, shows its import, and cancels', async () => {
    const file = join(folder, 'gate.jsonl');
    writeFileSync(file, lines(1000));
    const handed = await first.client('log', 'import', file, '--no-wait');
    expect(handed.code).toBe(0);
    const [, id] = /imports it by itself \(import (\d+)\)/.exec(handed.out) ?? [];
    await ended(first, Number(id));
    const shown = await first.client('import', 'list');
    expect(shown.out).toMatch(new RegExp(`^ *${id} +gate +done +100 % of 0\\.1 MiB +– +administrator`, 'm'));
    const late = await first.client('import', 'cancel', String(id));
    expect(late.out).toBe(`Import ${id} had ended already: it is done.\n`);
    const sender = await sendSlowly(first, 'slow');
    const [{ id: running }] = await underWay(first);
    expect((await first.client('import', 'list')).out).toMatch(/slow +running/);
    const cancelled = await first.client('import', 'cancel', String(running));
    expect(cancelled.out).toBe(`Cancelled import ${running}; nothing of slow is kept.\n`);
    expect((await sender.answer).status).toBe(409);
    const unknown = await first.client('import', 'cancel', '99999');
    expect([unknown.code, unknown.err]).toEqual([4, expect.stringContaining('There is no import 99999.')]);
  });
});
