import { once } from 'node:events';
import { connect, type Socket } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, queryDatabase, startService, type TestService } from '../setup/service.js';

/** What others do to hold a service up: it goes on deciding and letting people in, and says what was held up. */
let service: TestService & { readonly database: string };
const IDLE_SECONDS = 2;

beforeAll(async () => {
  service = await startService(['--upload-idle', String(IDLE_SECONDS)]);
  const text = 'policy: p\ncovers: {hosts: [a.example]}\ndefault: block\n';
  await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text }] });
  await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true });
  while ((await service.ask('POST', '/decide', { host: 'a.example' })).status !== 200) await sleep(20);
});
afterAll(() => service?.stop());

const decide = async () => (await service.ask('POST', '/decide', { host: 'a.example', path: '/' })).body.verdict;

describe('a notification of the database', () => {
  it('that is none of ours is passed over, whatever is in it', async () => {
    const payloads = [
      ...['', 'x', '{', 'null', '[]', '1', '"jobs"', '{}', '{"type":"nothing"}', '{"type":"published"}'],
      ...['{"type":"published","revision":"1"}', '{"type":"published","revision":1e300}', '{"type":"cancel"}'],
      ...['{"type":"cancel","kind":"constructor","id":1}', '{"type":"progress","kind":"replays","id":-0.5}'],
      ...[
        '{"type":"cancel","kind":"replays","id":999999}',
        '{"type":{"toString":1}}',
        `{"type":"${'x'.repeat(7000)}"}`,
      ],
    ];
    for (const payload of payloads)
      await queryDatabase(service.database, `select pg_notify('jade_fence', ${pg.escapeLiteral(payload)})`);
    await sleep(200);
    expect((await callApi(service.url, 'GET', '/ready', undefined, {})).status).toBe(200);
    expect(await decide()).toBe('block');
    expect(service.process.exitCode).toBeNull();
  });
});

describe('an upload that goes quiet', () => {
  /** Begins to send a log and stops in the middle of it. */
  async function beginning(name: string): Promise<Socket> {
    const socket = connect(Number(new URL(service.url).port), '127.0.0.1');
    await once(socket, 'connect');
    socket.write(
      `POST /api/v1/logs?name=${name} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer ${service.key}\r\n` +
        'Content-Length: 100000\r\n\r\n{"host":"a.example"}\n',
    );
    return socket;
  }

  it('is given up after a while, and holds neither its name nor a turn', async () => {
    const sockets = await Promise.all(['quiet-1', 'quiet-2', 'quiet-3'].map(beginning));
    const answers = await Promise.all(
      sockets.map(async (socket) => {
        let text = '';
        socket.on('data', (piece) => {
          text += piece;
        });
        await Promise.race([once(socket, 'close'), sleep(IDLE_SECONDS * 1000 + 8000)]);
        socket.destroy();
        return text;
      }),
    );
    for (const answer of answers) {
      expect(answer).toMatch(/^HTTP\/1\.1 408 /);
      expect(answer).toContain('upload-idle');
    }
    for (const name of ['quiet-1', 'quiet-2', 'quiet-3'])
      expect((await service.call('POST', `/api/v1/logs?name=${name}`, '{"host":"a.example"}\n')).status).toBe(201);
    // Transactions of the moment are the service's other work; one that an upload held is older.
    const held =
      "select count(*)::int as held from pg_stat_activity where state like 'idle in transaction%' " +
      "and xact_start < now() - interval '2 seconds'";
    expect((await queryDatabase(service.database, held))[0].held).toBe(0);
  });
});

describe('edits that wait for the draft', () => {
  it('stop neither decisions nor signing in nor readiness, and answer that they could not be made', async () => {
    const holder = new pg.Client({ connectionString: service.database });
    await holder.connect();
    await holder.query('begin; select pg_advisory_xact_lock(7440001)');
    try {
      const edits = Array.from({ length: 20 }, (_, at) =>
        service.call('PUT', '/api/v1/workspace', { files: [{ name: 'l', text: `list: l${at}\nof: domains\n` }] }),
      );
      await sleep(500);
      const times: number[] = [];
      for (let at = 0; at < 20; at++) {
        const started = performance.now();
        expect(await decide()).toBe('block');
        expect((await callApi(service.url, 'GET', '/ready', undefined, {})).status).toBe(200);
        expect((await service.call('GET', '/api/v1/me')).status).toBe(200);
        expect((await service.call('GET', '/api/v1/workspace')).status).toBe(200);
        times.push(performance.now() - started);
      }
      expect(Math.max(...times)).toBeLessThan(2000);
      const first = await Promise.race(edits);
      expect([first.status, typeof first.body.remedy]).toEqual([503, 'string']);
      await holder.query('rollback');
      const rest = await Promise.all(edits);
      expect(rest.filter(({ status }) => status === 200).length).toBeGreaterThan(0);
    } finally {
      await holder.end();
    }
  });
});

describe('numbers in questions', () => {
  // biome-ignore lint/suspicious/noExplicitAny: the description is checked elsewhere, by a parser that we did not write
  type Described = any;
  const WRONG = ['1e300', '-1', '1.5', 'NaN', 'Infinity', '9007199254740993', '1e-7', '99999999999999999999'];

  it('are bounded, each of every call: what is none is refused, and never gets to the database', async () => {
    const { paths } = (await service.call('GET', '/api/v1/openapi.json')).body;
    const asked: string[] = [];
    for (const [path, methods] of Object.entries(paths as Record<string, Record<string, Described>>))
      for (const parameter of methods.get?.parameters ?? []) {
        const type = parameter.schema?.type;
        if (parameter.in !== 'query' || !['number', 'integer'].includes(type)) continue;
        for (const wrong of WRONG) {
          const call = `${path.replace(/\{\w+\}/g, '1')}?${parameter.name}=${wrong}`;
          asked.push(`${(await service.call('GET', call)).status} ${call}`);
        }
      }
    expect(asked.length).toBeGreaterThan(50);
    expect(asked.filter((each) => !each.startsWith('400 '))).toEqual([]);
  });

  it('in paths that are none are the numbers of nothing', async () => {
    const { paths } = (await service.call('GET', '/api/v1/openapi.json')).body;
    const numbered = Object.keys(paths).filter((path) => /\{(?:id|number)\}/.test(path) && paths[path].get);
    expect(numbered.length).toBeGreaterThan(5);
    for (const path of numbered)
      for (const wrong of ['1e300', '-1', '999999999999', '1;drop', '%00', 'NaN'])
        expect([404, 400], path).toContain((await service.call('GET', path.replace(/\{\w+\}/g, wrong))).status);
  });
});
