import { once } from 'node:events';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { ended, launch, newDatabase, queryDatabase, startService, type TestService } from '../setup/service.js';

type Service = Omit<TestService, 'folder'>;

const POLICY = [
  'policy: p',
  'covers: {hosts: [.example]}',
  'default: allow',
  'rules:',
  '  - rule: few',
  '    when: {host: [a.example]}',
  '    limit: {more-than: 3, within: 1m, per: [client]}',
  '    then: block',
].join('\n');
const REQUESTS = 200_000;

/** Lines of many clients in order, so that a replay takes a while. */
function lines(count: number): string {
  return Array.from({ length: count }, (_, at) => {
    const peer = `198.18.${(at >> 8) & 255}.${at & 255}`;
    const time = new Date(Date.UTC(2026, 10, 9) + at * 40).toISOString();
    return `{"time":"${time}","peer":"${peer}","host":"${at % 3 === 0 ? 'a' : 'b'}.example","path":"/${at % 997}","method":"GET"}\n`;
  }).join('');
}

async function prepare(service: Service): Promise<void> {
  await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: POLICY }] });
  expect((await service.call('POST', '/api/v1/logs?name=long', lines(REQUESTS))).status).toBe(201);
}

const order = async (service: Service, body: object = { log: 'long' }): Promise<number> =>
  (await service.call('POST', '/api/v1/replays', body)).body.id;
const report = async (service: Service, id: number) => (await service.call('GET', `/api/v1/replays/${id}/report`)).body;

/** Waits until the replay is under way. */
async function running(service: Service, id: number): Promise<void> {
  for (const end = Date.now() + 20_000; Date.now() < end; await sleep(10))
    if ((await service.call('GET', `/api/v1/replays/${id}`)).body.state !== 'waiting') return;
  throw new Error(`replay ${id} is not begun`);
}

/** A plain user of the database sees less of it than its administrator does, and most who share one are plain users. */
describe('services on one database', () => {
  let folder: string;
  let env: NodeJS.ProcessEnv & { DATABASE_URL: string };
  let first: Service;

  const started: Service[] = [];
  const start = async () => {
    const service = await launch(['--port', '0', '--data-dir', folder], env);
    started.push(service);
    return service;
  };
  const query = (sql: string) => queryDatabase(env.DATABASE_URL, sql);

  beforeAll(async () => {
    folder = openFolder();
    env = { ...process.env, DATABASE_URL: await newDatabase('plain user'), NO_COLOR: '1' };
    first = await start();
    await prepare(first);
  });
  afterAll(async () => {
    for (const service of started) await service.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  it('both take replays, and a replay is the same whoever runs it', async () => {
    const second = await start();
    const ids: number[] = [];
    for (let count = 0; count < 8; count++) ids.push(await order(count % 2 === 0 ? first : second));
    const texts = new Set<string>();
    for (const id of ids) {
      expect(await ended(first, id)).toMatchObject({ state: 'done', done: REQUESTS });
      texts.add(JSON.stringify(await report(second, id)));
    }
    expect(texts.size).toBe(1);
    const took = await query(`select distinct run_by from replays where id in (${ids})`);
    expect(took).toHaveLength(2);
    await second.stop();
  });

  it('take up what one of them was killed over, from the start', async () => {
    const second = await start();
    // All that one takes at a time, and more.
    const ids: number[] = [];
    for (let count = 0; count < 5; count++) ids.push(await order(second));
    await Promise.any(ids.map((id) => running(first, id)));
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');
    for (const id of ids) expect(await ended(first, id)).toMatchObject({ state: 'done', done: REQUESTS });
    const kept = await query(
      `select replay_id, sum(rows)::int as rows from replay_chunks where replay_id in (${ids}) group by 1`,
    );
    expect(kept.map(({ rows }) => rows)).toEqual(ids.map(() => REQUESTS));
  });

  it('lose no replay when one of them stops', async () => {
    const second = await start();
    const ids: number[] = [];
    for (let count = 0; count < 4; count++) ids.push(await order(second));
    await second.stop();
    for (const id of ids) expect((await ended(first, id)).state).toBe('done');
  });

  it('leave nothing of an import that one of them was killed in', async () => {
    const second = await start();
    const before = (await query('select count(*)::int as chunks from log_chunks'))[0].chunks;
    const url = new URL(`${second.url}/api/v1/logs?name=half`);
    const call = request(url, { method: 'POST', agent: false, headers: { authorization: `Bearer ${second.key}` } });
    call.on('error', () => undefined);
    for (let piece = 0; piece < 12; piece++) call.write(lines(70_000));
    await sleep(500);
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');
    call.destroy();
    expect((await first.call('GET', '/api/v1/logs/half')).status).toBe(404);
    expect((await query('select count(*)::int as chunks from log_chunks'))[0].chunks).toBe(before);
    // The name is free again.
    expect((await first.call('POST', '/api/v1/logs?name=half', lines(10))).status).toBe(201);
  });

  it('are sent a file again that one of them was killed over, when it is back', async () => {
    const second = await start();
    const file = join(folder, 'file.jsonl');
    writeFileSync(file, lines(REQUESTS));
    const client = second.client('--json', 'log', 'import', file);
    const storing = `select 1 from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()
      and state <> 'idle' and query like '%insert into "log_chunks"%'`;
    for (const end = Date.now() + 20_000; Date.now() < end; await sleep(5))
      if ((await query(storing)).length > 0) break;
    second.process.kill('SIGKILL');
    await once(second.process, 'exit');
    const again = await launch(['--port', new URL(second.url).port, '--data-dir', folder], env);
    started.push(again);
    const { code, out, err } = await client;
    expect(err).toMatch(/^No service answers at .* Waiting .*\nIt is there; sending the log again\.\n$/);
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({ name: 'file', requests: REQUESTS, rejected: 0 });
    const [{ rows }] = await query(
      `select sum(rows)::int as rows from log_chunks join logs on logs.id = log_id where name = 'file'`,
    );
    expect(rows).toBe(REQUESTS);
    await again.stop();
  });

  it('cancel replays that wait and that run, whoever is asked', async () => {
    const second = await start();
    const ids: number[] = [];
    for (let count = 0; count < 16; count++) ids.push(await order(first));
    const answers = await Promise.all(ids.map((id) => second.call('POST', `/api/v1/replays/${id}/cancel`, {})));
    for (const { body } of answers) expect(body.state).toMatch(/^(?:cancelled|done)$/);
    const states = await query(`select state, count(*)::int as count from replays where id in (${ids}) group by 1`);
    expect(states.find(({ state }) => state === 'cancelled')?.count).toBeGreaterThanOrEqual(4);
    const kept = await query(
      `select count(*)::int as chunks from replay_chunks join replays on replays.id = replay_id where state = 'cancelled'`,
    );
    expect(kept[0].chunks).toBe(0);
    await second.stop();
  });

  it('report the progress of a replay that another runs, as server-sent events', async () => {
    const second = await start();
    const id = await order(first);
    const response = await fetch(`${second.url}/api/v1/replays/${id}/progress`, {
      headers: { authorization: `Bearer ${second.key}` },
    });
    expect(response.headers.get('content-type')).toContain('text/event-stream');
    const text = await response.text();
    const events = text.split('\n\n').filter((event) => event.startsWith('event: progress\n'));
    const bodies = events.map((event) => JSON.parse(event.slice(event.indexOf('data: ') + 6)));
    expect(bodies.at(-1)).toMatchObject({ id, state: 'done', done: REQUESTS, total: REQUESTS });
    expect(bodies.map(({ done }) => done)).toEqual(bodies.map(({ done }) => done).toSorted((a, b) => a - b));
    await second.stop();
  });
});

describe('the managed database', () => {
  it('is started again where it was killed, and what it had committed is there', async () => {
    const folder = openFolder();
    const env: NodeJS.ProcessEnv = { ...process.env, NO_COLOR: '1' };
    delete env.DATABASE_URL;
    const service = await launch(['--port', '0', '--data-dir', join(folder, 'data')], env);
    try {
      await prepare(service);
      const [id, other] = [await order(service), await order(service)];
      const handed = await service.call('POST', '/api/v1/logs?name=handed', lines(100_000), {
        prefer: 'respond-async',
      });
      expect(handed.status).toBe(202);
      await running(service, id);
      const [pid] = readFileSync(join(folder, 'data', 'postgres', 'postmaster.pid'), 'utf8').split('\n');
      process.kill(Number(pid), 'SIGKILL');
      const during = await service.call('POST', '/api/v1/logs?name=meanwhile', lines(100_000));
      expect([201, 503]).toContain(during.status);
      if (during.status === 503) expect(during.body).toMatchObject({ code: 'database-away' });
      for (const end = Date.now() + 20_000; Date.now() < end; await sleep(100))
        if ((await service.call('GET', '/ready')).status === 200) break;
      expect((await service.call('GET', '/api/v1/logs/long')).body).toMatchObject({ requests: REQUESTS });
      for (const each of [id, other]) expect(await ended(service, each)).toMatchObject({ state: 'done' });
      const progress = await service.call('GET', `/api/v1/imports/${handed.body.id}/progress`);
      expect(progress.body).toContain('"state":"done"');
      expect((await service.call('GET', '/api/v1/logs/handed')).body).toMatchObject({ requests: 100_000 });
    } finally {
      await service.stop();
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

describe('a machine that slept', () => {
  it('goes on with what it was at, though all leases are over when it wakes', async () => {
    const service = await startService();
    try {
      const call = request(`${service.url}/api/v1/logs?name=slept`, {
        method: 'POST',
        agent: false,
        headers: { authorization: `Bearer ${service.key}` },
      });
      const answered = once(call, 'response');
      call.write(lines(1000));
      const state = async () => (await queryDatabase(service.database, 'select state, attempt from imports'))[0];
      await expect.poll(state).toEqual({ state: 'running', attempt: 1 });
      // The database sleeps too, and its clock is ahead when both wake.
      service.process.kill('SIGSTOP');
      await queryDatabase(service.database, "update imports set lease_until = now() - interval '1 hour'");
      await sleep(2500);
      service.process.kill('SIGCONT');
      await sleep(500);
      call.end(lines(1000));
      const [response] = await answered;
      response.resume();
      expect(response.statusCode).toBe(201);
      expect(await state()).toEqual({ state: 'done', attempt: 1 });
    } finally {
      service.process.kill('SIGCONT');
      await service.stop();
    }
  });
});
