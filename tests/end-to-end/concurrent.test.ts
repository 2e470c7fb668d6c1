import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { callApi, launch, newDatabase, type TestService } from '../setup/service.js';

/** Two services on one database, and several people who edit and publish at once. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
type Service = Omit<TestService, 'folder'>;
const services: Service[] = [];
let key: string;

const EDITORS = 4;
const EDITS = 20;
const PUBLISHES = 10;
const LIST = '/api/v1/objects/list/home-workers';
const TEXT = 'list: home-workers\nof: users\nentries:\n  - nobody\n';

beforeAll(async () => {
  const env = { ...process.env, DATABASE_URL: await newDatabase(), NO_COLOR: '1' };
  for (let at = 0; at < 2; at++)
    services.push(await launch(['--port', '0', '--data-dir', folder, '--workers', '1'], env));
  key = (services[0] as Service).key;
});
afterAll(async () => {
  await Promise.all(services.map((service) => service.stop()));
  rmSync(folder, { recursive: true, force: true });
});

const call = (at: number, method: string, path: string, body?: unknown, headers = {}) =>
  callApi((services[at % 2] as Service).url, method, path, body, { authorization: `Bearer ${key}`, ...headers });

/** Adds entries of one's own to the list, each at the version that was read, again where somebody else came before. */
async function edit(editor: number): Promise<number> {
  let conflicts = 0;
  for (let number = 0; number < EDITS; ) {
    const { body } = await call(editor, 'GET', LIST);
    const text = `${body.text}  - editor-${editor}-${number}\n`;
    const { status } = await call(editor + number, 'PUT', LIST, { text }, { 'if-match': `"${body.version}"` });
    if (status === 200) number++;
    else {
      expect(status).toBe(412);
      conflicts++;
    }
  }
  return conflicts;
}

async function publish(): Promise<number[]> {
  const numbers: number[] = [];
  for (let at = 0; numbers.length < PUBLISHES; at++) {
    const order = { message: `Publish ${at}`, acceptWarnings: true };
    const { status, body } = await call(at, 'POST', '/api/v1/revisions', order);
    if (status === 201) numbers.push(body.revision);
    // The draft was changed between its review and its publish, or not at all since the last one.
    else expect(['draft-changed', 'nothing-to-publish']).toContain(body.code);
    if (status !== 201 && editorsDone) break;
  }
  return numbers;
}
let editorsDone = false;

it('loses no edit and no number, and keeps the same story in the audit', { timeout: 240_000 }, async () => {
  expect((await call(0, 'PUT', LIST, { text: TEXT }, { 'if-none-match': '*' })).status).toBe(200);
  const publishing = publish();
  const conflicts = await Promise.all(Array.from({ length: EDITORS }, (_, editor) => edit(editor)));
  editorsDone = true;
  const numbers = await publishing;
  // They did get into each other's way.
  expect(Math.max(...conflicts)).toBeGreaterThan(0);

  const { body: list } = await call(0, 'GET', LIST);
  const entries = new Set(list.text.match(/editor-\d+-\d+/g));
  expect(entries.size).toBe(EDITORS * EDITS);
  expect(list.version).toBe(EDITORS * EDITS + 1);

  expect(numbers.length).toBeGreaterThan(3);
  expect(numbers).toEqual(numbers.map((_, at) => at + 1));

  const did = { 'object-changed': 0, published: 0 } as Record<string, number>;
  for (let after = 0; ; ) {
    const { body } = await call(1, 'GET', `/api/v1/audit?after=${after}&limit=1000`);
    for (const { action } of body.entries) did[action] = (did[action] ?? 0) + 1;
    if (body.next === null) break;
    after = body.next;
  }
  expect(did['object-changed']).toBe(EDITORS * EDITS);
  expect(did.published).toBe(numbers.length);

  // Each revision has one version of the list: the story has one order.
  const versions: { readonly revisions: number[] }[] = [];
  for (let after = ''; ; ) {
    const { body } = await call(0, 'GET', `${LIST}/versions?limit=1000${after}`);
    versions.push(...body.versions);
    if (body.next === null) break;
    after = `&after=${body.next}`;
  }
  expect(versions.toReversed().flatMap(({ revisions }) => revisions)).toEqual(numbers);
});
