import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startService } from '../setup/service.js';
import { atTerminal as typeAt } from '../setup/terminal.js';

/** What was edited in the service is not undone by files, or by going back, without a word. */
let service: Awaited<ReturnType<typeof startService>>;
let folder: string;

const POLICY = (...rules: readonly string[]) => `policy: seed-shop
covers: {hosts: [seeds.fennelhill.example]}
client: {from: peer}
default: allow
rules:
${rules.map((rule) => `  - ${rule}\n`).join('')}`;
const SCRAPERS = '{rule: no-scrapers, when: {client: [scrapers]}, then: block}';
const LIST = (...entries: readonly string[]) => `list: scrapers\nof: addresses\nentries: [${entries.join(', ')}]\n`;

const write = (...texts: readonly string[]) => writeFileSync(join(folder, 'shop.yaml'), texts.join('---\n'));
const apply = (...args: readonly string[]) => service.client('workspace', 'apply', folder, ...args);
const textOf = async (kind: string, name: string): Promise<string> =>
  (await service.call('GET', `/api/v1/objects/${kind}/${name}`)).body.text;

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-overwritten-'));
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

describe.each(['before the first publish', 'after a publish'])('apply, %s', (when) => {
  it('refuses to undo an entry and a rule that were added since, and says which and whose', async () => {
    write(POLICY(SCRAPERS), LIST('203.0.113.7'));
    expect((await apply('--overwrite')).code).toBe(0);
    if (when.startsWith('after')) await service.client('revision', 'publish', '-m', 'As it is', '--accept-warnings');
    await service.client('entry', 'add', 'scrapers', '203.0.113.8');
    const text = await textOf('policy', 'seed-shop');
    const { version } = (await service.call('GET', '/api/v1/objects/policy/seed-shop')).body;
    const added = `${text}  - {rule: no-catalogue, when: {path: [/catalogue]}, then: block}\n`;
    await service.call('PUT', '/api/v1/objects/policy/seed-shop', { text: added }, { 'if-match': `"${version}"` });
    write(POLICY('{rule: first, when: {path: [/x]}, then: block}', SCRAPERS), LIST('203.0.113.7', '203.0.113.9'));
    const dry = await apply('--dry-run');
    expect([dry.code, dry.out]).toEqual([0, expect.stringContaining('would undo what was edited here')]);
    const refused = await apply();
    expect(refused.code).toBe(4);
    expect(refused.err).toContain('1 address added since would be gone: `203.0.113.8` (administrator, ');
    expect(refused.err).toContain('rule `no-catalogue`, which was added since, would be gone: Block');
    expect(refused.err).toContain('--overwrite');
    expect(await textOf('list', 'scrapers')).toContain('203.0.113.8');
    expect(await textOf('policy', 'seed-shop')).toContain('no-catalogue');
  });

  it('goes on where the files have these edits, and where it is to overwrite them', async () => {
    write(
      POLICY(SCRAPERS, '{rule: no-catalogue, when: {path: [/catalogue]}, then: block}'),
      LIST('203.0.113.7', '203.0.113.8', '203.0.113.10'),
    );
    expect((await apply()).code).toBe(0);
    await service.client('entry', 'add', 'scrapers', '203.0.113.11');
    write(POLICY(SCRAPERS), LIST('203.0.113.7'));
    // The rule went from the file, whose it was: that is what the file is for.
    const done = await apply('--overwrite');
    expect([done.code, done.out]).toEqual([0, expect.stringContaining('added since would be gone: `203.0.113.11`')]);
    expect(done.out).not.toContain('no-catalogue');
    expect(await textOf('list', 'scrapers')).toBe(LIST('203.0.113.7'));
    expect((await apply()).out).not.toContain('gone');
  });

  it('removes nothing unasked that was made since', async () => {
    await service.call(
      'PUT',
      '/api/v1/objects/list/visitors',
      { text: 'list: visitors\nof: addresses\nentries: [192.0.2.1]\n' },
      { 'if-none-match': '*' },
    );
    const refused = await apply('--exact');
    expect([refused.code, refused.err]).toEqual([4, expect.stringContaining('list visitors  it would be removed')]);
    expect((await apply('--exact', '--overwrite')).code).toBe(0);
    expect((await service.call('GET', '/api/v1/objects/list/visitors')).status).toBe(404);
  });
});

describe('going back', () => {
  it('reports the edits that would be gone, and requires consent', async () => {
    await service.client('entry', 'add', 'scrapers', '203.0.113.12');
    for (const args of [
      ['draft', 'discard', 'list', 'scrapers'],
      ['draft', 'discard', '--all'],
      ['revision', 'restore', '1'],
      ['revision', 'restore', '1', 'list', 'scrapers'],
    ]) {
      const { code, err } = await service.client(...args);
      expect([args, code]).toEqual([args, 4]);
      expect(err).toContain('list scrapers, by administrator: 1 address added to `scrapers`: `203.0.113.12`');
      expect(err).toContain('--yes');
    }
    expect(await textOf('list', 'scrapers')).toContain('203.0.113.12');
  });

  it('is refused where the draft has changed since it was looked at', async () => {
    const { draft } = (await service.call('GET', '/api/v1/draft')).body;
    await service.client('entry', 'add', 'scrapers', '203.0.113.13');
    for (const [path, body] of [
      ['/api/v1/draft/discard', {}],
      ['/api/v1/draft/restore', { revision: 1 }],
    ] as const) {
      const answer = await service.call('POST', path, { ...body, draft });
      expect([answer.status, answer.body.code]).toEqual([412, 'draft-changed']);
    }
  });
});

it('asks at a terminal with the consequence, and does it for a yes alone', async () => {
  await expect(atTerminal(['draft', 'discard', 'list', 'scrapers'], 'no')).resolves.toContain('203.0.113.12');
  expect(await textOf('list', 'scrapers')).toContain('203.0.113.12');
  expect(await atTerminal(['draft', 'discard', 'list', 'scrapers'], 'yes')).toContain('Discard them?');
  expect(await textOf('list', 'scrapers')).not.toContain('203.0.113.12');
  await service.client('entry', 'add', 'scrapers', '203.0.113.14');
  const asked = await atTerminal(['workspace', 'apply', folder], 'yes');
  expect(asked).toContain('203.0.113.14');
  expect(await textOf('list', 'scrapers')).not.toContain('203.0.113.14');
});

it.each([
  [['log', 'remove', 'monday'], 'with 1 request, and all replays of it would be gone for good'],
  [['person', 'remove', 'mo'], 'mo could not sign in any more'],
  [['token', 'remove', '1'], 'would be refused from now on'],
  [['replay', 'remove', '1'], 'would be gone for good'],
  [
    ['entry', 'import', 'scrapers', 'FILE', '--of', 'addresses'],
    'What list scrapers holds, 1 entry, would be replaced',
  ],
])('does not %s without consent', async (args, consequence) => {
  const file = join(folder, 'entries.txt');
  writeFileSync(file, '192.0.2.9\n');
  const log = join(folder, 'monday.jsonl');
  writeFileSync(log, '{"time":"2026-11-20T10:00:00Z","peer":"192.0.2.1","host":"seeds.fennelhill.example"}\n');
  await service.client('log', 'import', log);
  await service.call('POST', '/api/v1/people', { name: 'mo', role: 'editor', password: 'a fern in every gorge' });
  const { code, err } = await service.client(...args.map((arg) => (arg === 'FILE' ? file : arg)));
  expect([code, err]).toEqual([4, expect.stringContaining(consequence)]);
  expect(err).toContain('Nothing was changed.');
  expect((await service.call('GET', '/api/v1/logs/monday')).status).toBe(200);
  expect(await textOf('list', 'scrapers')).not.toContain('192.0.2.9');
});

/** Runs the client at a terminal, and answers its question. Gives what it showed. */
const atTerminal = (args: readonly string[], answer: string): Promise<string> =>
  typeAt(['--service', service.url, ...args], { JADE_FENCE_KEY: service.key }, [
    { behind: '(yes/no)', text: `${answer}\n` },
  ]);
