import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { axe, printWhenFailed, signIn } from '../setup/console.js';
import { startService, type TestService } from '../setup/service.js';

/** Logs of shapes that are not ours: nested JSON and lines of text, by mappings that are tried first and kept by name. */
let service: TestService;
let folder: string;
let browser: Browser;
let page: Page;
let complaints: string[];

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-mappings-'));
  browser = await launchBrowser();
  ({ page, complaints } = await openPage(browser));
  await signIn(page, service);
});
afterAll(async () => {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});
printWhenFailed(() => page);

function file(name: string, lines: readonly (string | object)[]): string {
  const text = lines.map((line) => `${typeof line === 'string' ? line : JSON.stringify(line)}\n`).join('');
  writeFileSync(join(folder, name), text);
  return join(folder, name);
}

const GATE = [
  '2026-11-09 08:00:00,250 [gate-2] 198.18.4.20 rita "GET /whats-on?page=2 HTTP/1.1" 200 "Thistle/8.0 (x \\"y\\")"',
  '2026-11-09 08:00:01,000 [gate-2] 2001:db8::7 - "POST /account/sign-in HTTP/2.0" 401 "-"',
  '2026-11-09 08:00:02,000 [gate-1] restarted',
];
const PATTERN = '{time} [{-}] {peer} {user} "{request}" {status} "{agent}"';
const nested = (ip: string, uri: string) => ({
  level: 'info',
  ts: 1794211200.25,
  request: { remote_ip: ip, method: 'GET', host: 'a.example', uri, headers: { 'X-Client': ['203.0.113.5'] } },
  status: 200,
});
const PLACES = ['--column', 'time=ts', '--column', 'peer=/request/remote_ip', '--column', 'path=request.uri'];

/** The requests of a log, as a replay by a policy that allows all shows them. */
async function requestsOf(log: string) {
  const policy = 'policy: open\ndefault: allow\nrules: []\n';
  const files = [{ name: 'open.yaml', text: policy }];
  const { body } = await service.call('POST', '/api/v1/replays', { log, policy: 'open', files });
  const at = `/api/v1/replays/${body.id}`;
  await expect.poll(async () => (await service.call('GET', at)).body.state).toBe('done');
  return (await service.call('GET', `${at}/requests`)).body.requests.map((each: { request: object }) => each.request);
}

describe('text', () => {
  it('is tried by a pattern, and imported by it', async () => {
    const gate = file('gate.log', GATE);
    const tried = await service.client('mapping', 'try', gate, '--pattern', PATTERN);
    expect(tried.out).toMatch(/1 +time +2026-11-09T08:00:00\.250Z/);
    expect(tried.out).toContain('The line is not as the pattern says, from here on: restarted');
    expect(tried.out).toContain('Read 2 of the first 3 lines as text.');
    expect((await service.call('GET', '/api/v1/logs')).body.logs).toEqual([]);
    const imported = await service.client('log', 'import', gate, '--pattern', PATTERN);
    expect(imported.out).toContain('Imported 2 requests of 3 lines as log gate (text).');
    expect(await requestsOf('gate')).toMatchObject([
      { peer: '198.18.4.20', user: 'rita', path: '/whats-on', query: 'page=2', agent: 'Thistle/8.0 (x "y")' },
      { peer: '2001:db8::7', method: 'POST', path: '/account/sign-in', status: 401 },
    ]);
  });

  it('is kept as a mapping, of a zone, and used by its name', async () => {
    const named = ['mapping', 'set', 'gatehouse', '--pattern', PATTERN, '--zone', 'Europe/Lisbon'];
    expect((await service.client(...named)).code).toBe(0);
    expect((await service.client('mapping', 'list')).out).toContain(PATTERN);
    const summer = file(
      'summer.log',
      GATE.map((line) => line.replace('-11-', '-07-')),
    );
    await service.client('log', 'import', summer, '--mapping', 'gatehouse');
    const [first] = await requestsOf('summer');
    expect(first.time).toBe('2026-07-09T07:00:00.250Z');
  });

  it.each([
    ['{time} {shade} {peer}', '{shade} is no field'],
    ['{peer}{user}', '{peer}{user} have no text between them'],
    ['{path}', '{path} has no text beside its field'],
    ['no braces', 'no braces has no field'],
    ['{time: hh} {peer}', '{time: hh} is no form of times'],
  ])('is refused by what is no pattern, before anything is sent: %s', async (pattern, what) => {
    const refused = await service.client('log', 'import', file('refused.log', GATE), '--pattern', pattern);
    expect([refused.code, refused.err]).toEqual([4, expect.stringContaining(what)]);
    expect(refused.err).toContain('nothing was imported');
  });

  it('says so where no line is as the pattern, and where there is no pattern', async () => {
    const gate = file('other.log', GATE);
    const none = await service.client('log', 'import', gate, '--pattern', '<{peer}> {path}');
    expect([none.code, none.err]).toEqual([
      4,
      expect.stringContaining('None of its 3 lines could be read as text by a pattern. Nothing was imported.'),
    ]);
    const bare = await service.client('log', 'import', gate, '--format', 'text');
    expect(bare.err).toContain('Text has no shape of its own, and no pattern says how to read it.');
  });
});

describe('JSON', () => {
  it('is read by the places of its fields, over blocks of many lines too', async () => {
    const lines = Array.from({ length: 70_000 }, (_, at) =>
      nested(`198.18.${(at >> 8) & 255}.${at & 255}`, `/p/${at % 50}?x`),
    );
    const proxy = file('proxy.jsonl', lines);
    const imported = await service.client(
      ...['log', 'import', proxy, ...PLACES],
      ...['--column', 'host=/request/host', '--column', 'header.*=/request/headers', '--column', 'scheme=/request/tls'],
    );
    expect(imported.out).toContain('Imported 70,000 requests of 70,000 lines as log proxy (json-lines).');
    expect(imported.out).toContain('No line has anything at the place that the mapping names for scheme.');
    expect((await requestsOf('proxy'))[1]).toMatchObject({
      ...{
        time: '2026-11-09T08:00:00.250Z',
        peer: '198.18.0.1',
        host: 'a.example',
        path: '/p/1',
        query: 'x',
        status: 200,
      },
      'some-headers': { 'x-client': '203.0.113.5' },
    });
  });

  it('keeps quiet of places that only some lines have', async () => {
    const some = file('some.jsonl', [nested('198.18.0.1', '/'), { ...nested('198.18.0.2', '/'), user_id: 'rita' }]);
    const { out } = await service.client('log', 'import', some, ...PLACES, '--column', 'user=user_id');
    expect(out).not.toContain('No line has anything');
  });

  it('is refused by a place that is no pointer', async () => {
    const refused = await service.client('log', 'import', file('x.jsonl', ['{}']), '--column', 'peer=/a~2b');
    expect([refused.code, refused.err]).toEqual([4, expect.stringContaining('`/a~2b` is no JSON Pointer')]);
  });
});

describe('a preview', () => {
  it.each([
    ['nothing but lines', { text: '{"path":"/"}' }, 200, undefined],
    [
      'nothing to say of columns, zone and pattern',
      { text: 'x', columns: null, zone: null, pattern: null },
      200,
      undefined,
    ],
    ['no lines', { text: '' }, 200, undefined],
    ['the longest text, each character of it escaped', { text: '\u0001'.repeat(32_768) }, 200, undefined],
    ['no text', {}, 400, 'invalid-input'],
    ['more text than is looked at', { text: 'x'.repeat(32_769) }, 400, 'invalid-input'],
    ['columns that are no object', { text: 'x', columns: ['peer'] }, 400, 'invalid-input'],
    ['a mapping that nobody keeps', { text: 'x', mapping: 'gatehous' }, 404, 'unknown-mapping'],
    ['text without a pattern', { text: 'x', format: 'text' }, 400, 'no-pattern'],
    ['an unknown format', { text: 'x', format: 'xml' }, 400, 'invalid-input'],
  ])('of %s', async (_, body, status, code) => {
    const answer = await service.call('POST', '/api/v1/mappings/preview', body);
    expect([answer.status, answer.body.code]).toEqual([status, code]);
  });

  it('of a file that is not there, or empty, is answered in words', async () => {
    const gone = await service.client('mapping', 'try', join(folder, 'gone.log'));
    expect([gone.code, gone.err]).toEqual([expect.any(Number), expect.stringContaining('gone.log')]);
    expect(gone.code).not.toBe(0);
    expect((await service.client('mapping', 'try', file('empty.log', []))).out).toContain(
      'Read 0 of the first 0 lines',
    );
  });
});

describe('the console', () => {
  it('makes a pattern of a line whose parts are marked, and shows what is read by it', async () => {
    await page.goto(`${service.url}/logs`);
    await page.locator('input[type=file]').setInputFiles(file('by-example.log', GATE));
    const area = page.getByLabel('Pattern of its lines: mark a part, then say what it is');
    await area.waitFor();
    const parts = [
      ['2026-11-09 08:00:00,250', 'time'],
      ['gate-2', 'skip'],
      ['198.18.4.20', 'peer'],
      ['rita', 'user'],
      ['GET /whats-on?page=2 HTTP/1.1', 'request'],
      ['200', 'status'],
      ['Thistle/8.0 (x \\"y\\")', 'agent'],
    ] as const;
    for (const [text, field] of parts) {
      await area.evaluate((input: HTMLTextAreaElement, part) => {
        const from = input.value.indexOf(part);
        input.setSelectionRange(from, from + part.length);
      }, text);
      await page.getByRole('button', { name: field, exact: true }).click();
    }
    expect(await area.inputValue()).toBe(PATTERN);
    const read = page.getByRole('region', { name: 'Read as' });
    await read.getByText('Read 2 of the first 3 lines as text.').waitFor();
    await read.getByText('The line is not as the pattern says, from here on: restarted').waitFor();
    await page.getByLabel('Name of the mapping').fill('from-the-console');
    await page.getByRole('button', { name: 'Keep it for other logs' }).click();
    await page.getByText('Kept as from-the-console.').waitFor();
    const { body } = await service.call('GET', '/api/v1/mappings/from-the-console');
    expect(body.pattern).toBe(PATTERN);
    expect(await axe(page)).toEqual([]);
    await page.getByRole('button', { name: 'Bring by-example.log' }).click();
    await page.waitForURL(/\/logs\/by-example/);
  });

  it('offers the places of nested JSON, and shows what is read by them', async () => {
    await page.goto(`${service.url}/logs`);
    await page.locator('input[type=file]').setInputFiles(file('nested.jsonl', [nested('198.18.0.9', '/a?b')]));
    await page
      .getByRole('button', { name: 'peer', exact: true })
      .or(page.getByLabel('peer', { exact: true }))
      .first()
      .click();
    await page.getByRole('option', { name: '/request/remote_ip' }).click();
    const read = page.getByRole('region', { name: 'Read as' });
    await read.getByText('198.18.0.9').waitFor();
    expect(await axe(page)).toEqual([]);
    expect(complaints).toEqual([]);
  });
});
