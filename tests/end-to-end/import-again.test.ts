import { once } from 'node:events';
import { rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { runClient } from '../setup/service.js';

const TEXT = '{"host":"tickets.fennelhill.example"}\n';
let folder: string;
let file: string;
let service: Server | undefined;

beforeAll(() => {
  folder = openFolder();
  file = join(folder, 'gate.jsonl');
  writeFileSync(file, TEXT);
  writeFileSync(`${file}.gz`, TEXT);
});
afterEach(() => service?.close());
afterAll(() => rmSync(folder, { recursive: true, force: true }));

type Answer = 'hang up' | { readonly status: number; readonly body: object };

const LOG = {
  ...{ name: 'gate', format: 'json-lines', requests: 1, lines: 1, rejected: 0, looksWrong: false, bytes: TEXT.length },
  ...{
    ignoredFields: {},
    unreadable: [],
    damagedFiles: [],
    redacted: [],
    firstTime: null,
    lastTime: null,
    importedAt: '2026-11-09T00:00:00.000Z',
  },
};
/** The service's answer about the import that was sent first. */
const HELD = { id: 7, log: 'gate', state: 'done', held: true, received: TEXT.length, done: TEXT.length, failure: null };
const DONE: Answer = { status: 201, body: LOG };
const TAKEN: Answer = { status: 409, body: { code: 'log-name-taken', detail: 'There is a log gate already.' } };
const UNDER_WAY: Answer = { status: 409, body: { code: 'import-under-way', detail: 'A log gate is being imported.' } };
const lost = (code: string): Answer => ({ status: 503, body: { code, detail: `It was ${code}.` } });

function answer(response: ServerResponse, given: Answer): void {
  if (given === 'hang up') response.socket?.destroy();
  else response.writeHead(given.status, { 'content-type': 'application/json' }).end(JSON.stringify(given.body));
}

/** A stand-in for the service that takes a log whole and then answers as it is set, one answer an upload. */
async function importing(
  answers: readonly Answer[],
  { from = file, held = HELD, input = '', args = [] as readonly string[] } = {},
) {
  let uploads = 0;
  service = createServer(async (request, response) => {
    if (request.url === '/ready') return answer(response, { status: 200, body: {} });
    if (request.url === '/api/v1/imports?limit=1000')
      return answer(response, { status: 200, body: { imports: [held], next: null } });
    if (request.url === '/api/v1/imports/7') return answer(response, { status: 200, body: { ...held, state: 'done' } });
    if (request.url === '/api/v1/imports/7/progress') return answer(response, 'hang up');
    if (request.method === 'GET') return answer(response, { status: 200, body: LOG });
    for await (const _ of request);
    answer(response, answers[uploads++] ?? 'hang up');
  }).listen(0, '127.0.0.1');
  await once(service, 'listening');
  const url = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
  const ran = await runClient(
    ['--service', url, 'log', 'import', from, '--name', 'gate', ...args],
    { JADE_FENCE_KEY: 'k' },
    input,
  );
  return { ...ran, uploads };
}

it.each([
  ['that hung up', 'hang up', /^No service answers/],
  ['that lost a worker', lost('worker-lost'), /^It was worker-lost\./],
  ['that lost its database', lost('database-away'), /^It was database-away\./],
] as const)('sends a log again to a service %s, and says why', async (_, first, why) => {
  const { code, err, uploads } = await importing([first, DONE]);
  expect([code, uploads]).toEqual([0, 2]);
  expect(err).toMatch(why);
  expect(err).toContain('sending the log again');
});

it.each([
  ['is there by then', TAKEN, {}],
  ['is there by then, sent packed', TAKEN, { from: 'packed' }],
  ['is still being imported, and waits for it', UNDER_WAY, { held: { ...HELD, state: 'running' } }],
])('takes a log that %s for the one it sent', async (_, second, how) => {
  const { code, out, uploads } = await importing(['hang up', second], 'from' in how ? { from: `${file}.gz` } : how);
  expect([code, uploads]).toEqual([0, 2]);
  expect(out).toContain('Imported 1 request');
});

it('takes an import that is under way for the one it handed over, and does not wait', async () => {
  const held = { ...HELD, state: 'running' };
  const { code, out } = await importing(['hang up', UNDER_WAY], { held, args: ['--no-wait'] });
  expect([code, out]).toEqual([0, expect.stringContaining('(import 7)')]);
});

it.each([
  ['is of another size', { ...HELD, received: TEXT.length + 1 }],
  ['was not all there', { ...HELD, held: false }],
  ['came to no log', { ...HELD, state: 'failed' }],
  ['is of another name', { ...HELD, log: 'other' }],
])('does not, where it %s', async (_, held) => {
  const { code, err } = await importing(['hang up', TAKEN], { held });
  expect(code).not.toBe(0);
  expect(err).toContain('There is a log gate already.');
});

it('gives up after three times', async () => {
  const { code, uploads } = await importing([]);
  expect([code === 0, uploads]).toEqual([false, 3]);
});

it.each([
  ['what the service refuses', [TAKEN], {}],
  ['what came through a pipe', ['hang up'], { from: '-', input: TEXT }],
] as const)('does not send again %s', async (_, answers, how) => {
  const { code, err, uploads } = await importing(answers, how);
  expect([code === 0, uploads]).toEqual([false, 1]);
  expect(err).not.toContain('again');
});
