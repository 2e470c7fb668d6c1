import { mkdirSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DEMO, runClient, startService, type TestService } from '../setup/service.js';

/** Bad input: a clear error each, nothing lost, nothing half-applied. */
let service: TestService;
let folder: string;
const MAX_UPLOAD = 1024 ** 3;

beforeAll(async () => {
  service = await startService();
});
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-files-'));
  return () => rmSync(folder, { recursive: true, force: true });
});
afterAll(() => service.stop());

function file(name: string, text: string): string {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
}

const logs = async () => (await service.call('GET', '/api/v1/logs')).body.logs.map((log: { name: string }) => log.name);

const FIVE_MISTAKES = `policy: ticket-site
covers: {hosts: [tickets.fennelhill.example]}
default: alow
rules:
  - rule: open-countries
    when: {contry: [PT]}
    then: allow
  - rule: curators
    when: {client: [curatros]}
    then: allow
  - rule: sign-in
    when: {path: [account/sign-in], client: [10.40.8.1/22]}
    then: block
---
list: curators
of: addresses
entries: [203.0.113.0/28]
`;

describe('workspace files', () => {
  const expected = [
    [3, 'unknown-value', 'Did you mean `allow`?'],
    [6, 'unknown-key', 'Did you mean `country`?'],
    [9, 'unknown-list', 'Did you mean `curators`?'],
    [12, 'bad-path', expect.stringContaining('/exact')],
    [12, 'host-bits', expect.stringContaining('10.40.8.0/22')],
  ];

  it('with five different mistakes show all five, each with its line, a caret and what would be right', async () => {
    const path = file('five.yaml', FIVE_MISTAKES);
    const { code, out } = await runClient(['workspace', 'check', path, '--json']);
    expect(code).toBe(1);
    expect(
      JSON.parse(out).issues.map((issue: { line: number; code: string; remedy: string }) => [
        issue.line,
        issue.code,
        issue.remedy,
      ]),
    ).toEqual(expected);
    const human = await runClient(['workspace', 'check', path]);
    expect(human.out).toContain(
      ['  9 │     when: {client: [curatros]}', '    │                     ^^^^^^^^'].join('\n'),
    );
    expect(human.out).toContain('1 problem'.replace('1', '5'));
  });

  it('show the same through the service, which stores nothing of them', async () => {
    const ran = await service.client('workspace', 'apply', file('five.yaml', FIVE_MISTAKES));
    expect([ran.code, ran.out]).toEqual([1, '']);
    expect(ran.err).toContain('5 problems in the workspace files; nothing was changed.');
    expect((await service.call('GET', '/api/v1/workspace')).body).toMatchObject({ policies: [], lists: [] });
    const answer = await service.call('PUT', '/api/v1/workspace', {
      files: [{ name: 'five.yaml', text: FIVE_MISTAKES }],
    });
    expect([
      answer.status,
      answer.body.issues.map((issue: { line: number; code: string; remedy: string }) => [
        issue.line,
        issue.code,
        issue.remedy,
      ]),
    ]).toEqual([422, expected]);
  });

  it('are applied all or not at all: one good file does not slip in beside a bad one', async () => {
    mkdirSync(join(folder, 'both'));
    file('both/good.yaml', 'list: good\nof: domains\n');
    file('both/bad.yaml', 'list: bad\nof: domain\n');
    expect((await service.client('workspace', 'apply', join(folder, 'both'))).code).toBe(1);
    expect((await service.call('GET', '/api/v1/lists/good')).status).toBe(404);
  });

  it('that break what is stored are refused: a list that a policy uses, covers that overlap', async () => {
    expect((await service.client('workspace', 'apply', `${DEMO}workspace`)).code).toBe(0);
    const other = file('other.yaml', 'policy: other\ncovers: {hosts: [Staging.fennelhill.example]}\ndefault: allow\n');
    const overlapping = await service.client('workspace', 'apply', other);
    expect([overlapping.code, overlapping.err]).toEqual([
      1,
      expect.stringContaining('cover `staging.fennelhill.example`'),
    ]);
    const exact = await service.client(
      'workspace',
      'apply',
      file('site.yaml', readFileSync(`${DEMO}workspace/ticket-site.yaml`, 'utf8')),
      '--exact',
    );
    expect([exact.code, exact.err]).toEqual([1, expect.stringContaining('`edge-proxies` is not a list.')]);
    const sort = await service.client('workspace', 'apply', file('sort.yaml', 'list: edge-proxies\nof: domains\n'));
    expect(sort.err).toContain('`edge-proxies` is a list of domains, and here belongs a list of addresses');
    expect((await service.call('GET', '/api/v1/workspace')).body.policies).toHaveLength(2);
    expect((await service.call('GET', '/api/v1/lists/edge-proxies')).body.of).toBe('addresses');
  });

  it('with a character that cannot be stored say so, wherever it is', async () => {
    const text = 'list: odd\nof: domains\nnote: "a\u0000b"\nentries: []\n';
    const answers = [
      await service.call('PUT', '/api/v1/objects/list/odd', { text }, { 'if-none-match': '*' }),
      await service.call('POST', '/api/v1/session', { name: 'a\u0000b', password: 'nothing' }),
    ];
    for (const { status, body } of answers) expect([status, body.code]).toEqual([400, 'bad-character']);
  });

  it('that are no files, no documents or no text of ours say so', async () => {
    expect((await runClient(['workspace', 'check', join(folder, 'none')])).err).toContain('is not there.');
    expect((await runClient(['workspace', 'check', folder])).err).toContain('holds no workspace files');
    expect((await service.client('workspace', 'apply', file('empty.yaml', '# nothing\n'))).err).toContain(
      'hold no document',
    );
    expect((await runClient(['workspace', 'check', file('binary.yaml', '\u0000\u0001\u0002')])).code).toBe(1);
    expect((await runClient(['workspace', 'check', file('deep.yaml', '['.repeat(200_000))])).out).toContain(
      'too deeply',
    );
  });
});

describe('logs', () => {
  it('with 3 broken lines of 1,000 import what can be read of them, and say what could not', async () => {
    const lines = readFileSync(`${DEMO}logs/week.jsonl`, 'utf8').split('\n').slice(0, 1000);
    lines[9] = '{"host": "tickets.fennelhill.example", ';
    lines[499] = lines[499]!.replace(/"time":"[^"]*"/, '"time":"2026-13-01T00:00:00Z"');
    lines[999] = lines[999]!.replace(/"peer":"[^"]*"/, '"peer":"300.1.1.1"');
    const imported = await service.client('log', 'import', file('broken.jsonl', lines.join('\n')));
    expect([imported.code, imported.out]).toEqual([0, expect.stringContaining('Imported 999 requests of 1,000 lines')]);
    expect(imported.out).toContain('1 line could not be read');
    expect(imported.out).toContain('left their fields unseen: peer (bad-peer, 1), time (bad-time, 1).');
    const { rejected } = JSON.parse((await service.client('--json', 'log', 'rejected', 'broken')).out);
    expect(rejected).toMatchObject([{ line: 10, code: 'not-json', text: lines[9] }]);
    expect((await service.call('GET', '/api/v1/logs/broken')).body.unreadable).toEqual([
      { field: 'peer', reason: 'bad-peer', count: 1 },
      { field: 'time', reason: 'bad-time', count: 1 },
    ]);
    expect(JSON.parse((await service.client('--json', 'replay', 'run', 'broken')).out).report.requests).toBe(999);
  });

  it('of which no request has a known field are refused, with the fields that they have', async () => {
    const ran = await service.client(
      'log',
      'import',
      file('strange.jsonl', '{"colour":"green","shade":"dark"}\n'.repeat(3)),
    );
    expect([ran.code, ran.err]).toEqual([
      4,
      expect.stringContaining('It has the fields colour, shade, of which none is'),
    ]);
  });

  it('over the limit are refused before their first byte is sent', async () => {
    const path = file('huge.jsonl', '');
    truncateSync(path, 2 * MAX_UPLOAD);
    const started = Date.now();
    const ran = await service.client('log', 'import', path);
    expect([ran.code, ran.err]).toEqual([
      4,
      expect.stringContaining('The upload is larger than 1,073,741,824 bytes; nothing was imported.'),
    ]);
    expect(Date.now() - started).toBeLessThan(20_000);
    expect(await logs()).not.toContain('huge');
  });

  it('without a length are stopped at the limit', async () => {
    const small = await startService(['--max-upload', '64KiB']);
    try {
      const status = await new Promise<number | undefined>((resolve, reject) => {
        const call = httpRequest(`${small.url}/api/v1/logs?name=endless`, {
          method: 'POST',
          headers: { authorization: `Bearer ${small.key}` },
        });
        call.on('response', (response) => resolve(response.resume().statusCode));
        call.on('error', reject);
        for (let sent = 0; sent < 40; sent++) call.write(`${'{"host":"a.example"}\n'.repeat(500)}`);
        call.end();
      });
      expect(status).toBe(413);
      expect((await small.call('GET', '/api/v1/logs')).body.logs).toEqual([]);
      expect((await small.call('POST', '/api/v1/logs?name=after', '{"host":"a.example"}')).status).toBe(201);
    } finally {
      await small.stop();
    }
  });

  it('whose upload breaks off leave nothing behind, and the service well', async () => {
    await new Promise<void>((resolve) => {
      const call = httpRequest(`${service.url}/api/v1/logs?name=cut`, {
        method: 'POST',
        headers: { authorization: `Bearer ${service.key}`, 'content-length': '1000000' },
      });
      call.on('error', () => resolve());
      call.write('{"host":"a.example"}\n'.repeat(100), () => setTimeout(() => call.destroy(new Error('gone')), 200));
    });
    for (
      let tries = 0;
      tries < 50 && (await service.call('POST', '/api/v1/logs?name=cut', '{"host":"a.example"}')).status !== 201;
      tries++
    )
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect((await service.call('GET', '/api/v1/logs/cut')).body.requests).toBe(1);
  });

  it.each([
    ['nothing', '', 422, 'no-readable-lines'],
    ['words', 'these are\njust words\n', 422, 'no-readable-lines'],
    ['binary', '\u0000\u0001\u0002\n', 422, 'no-readable-lines'],
    ['gzip', '\u001f\u008b\u0008', 422, 'damaged-log'],
    ['zstd', '\u0028\u00b5\u002f\u00fd\u0000', 422, 'damaged-log'],
    ['xz', '\u00fd7zXZ\u0000', 415, 'compressed-log'],
  ])('of %s are refused', async (name, text, status, code) => {
    const response = await fetch(`${service.url}/api/v1/logs?name=${name}`, {
      method: 'POST',
      headers: { authorization: `Bearer ${service.key}` },
      body: Buffer.from(text, 'latin1'),
    });
    expect([response.status, (await response.json()).code]).toEqual([status, code]);
    expect(await logs()).not.toContain(name);
  });

  it('that are mostly unreadable say that the format looks wrong', async () => {
    const ran = await service.client(
      'log',
      'import',
      file('mostly.jsonl', '{"host":"a.example"}\nx\ny\nz\n'),
      '--format',
      'json-lines',
    );
    expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('the format looks wrong')]);
  });

  it('that are folders or not there say so, and do not blame the service', async () => {
    expect(await service.client('log', 'import', folder)).toMatchObject({
      code: 1,
      err: expect.stringContaining('cannot be read'),
    });
    expect(await service.client('log', 'import', join(folder, 'none'))).toMatchObject({
      code: 1,
      err: expect.stringContaining('is not there'),
    });
  });

  it('with a name that is taken or is none, and with the content of another', async () => {
    const path = file('once.jsonl', '{"host":"once.example","colour":"red"}\n');
    expect((await service.client('log', 'import', path)).out).toContain(
      'Ignored fields that requests do not have: colour (1)',
    );
    expect((await service.client('log', 'import', path)).err).toContain('There is a log `once` already');
    expect((await service.client('log', 'import', path, '--name', 'twice')).out).toContain(
      'It has the same content as once',
    );
    expect((await service.client('log', 'import', path, '--name', 'Not A Name')).err).toContain(
      '1 to 64 of the characters',
    );
  });

  it('with hostile text are stored and shown without steering the terminal', async () => {
    const hostile = JSON.stringify({
      host: 'a.example',
      method: 'GET',
      path: '/',
      query: '\u001b[2J\u202e',
      agent: '<script>',
    });
    await service.client('replay', 'run', '--import', file('hostile.jsonl', hostile));
    const { out } = await service.client('request', 'list');
    expect(out).toContain('\\x1b[2J\\x202e');
    expect(out.includes('\u001b')).toBe(false);
  });
});

describe('country data', () => {
  it('with faulty rows is loaded without them; with no good row the old stays in force', async () => {
    const ran = await service.client(
      'country',
      'import',
      file('some.csv', '198.18.0.0/15,PT\n198.18.0.1/15,PT\n10.0.0.0/8,Portugal\n'),
      '--date',
      '2026-11-01',
    );
    expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('1 networks, 2 rows skipped')]);
    expect(ran.out).toContain('line 3: This is not a code of ISO 3166-1: PORTUGAL');
    const statistics =
      '2|exampleregistry|1|1|19850701|20261031|+0000\nexampleregistry|ES|ipv4|198.19.0.0|256|20100101|allocated|A\n';
    expect(
      (
        await service.client(
          'country',
          'import',
          file('delegated', `${statistics}exampleregistry|PT|ipv4|198.18.0.0|65536|20100101|assigned|B\n`),
        )
      ).out,
    ).toContain('Country data of 2026-10-31 is in the draft: 2 networks');
    expect(
      (await service.client('country', 'import', file('day.csv', '198.18.0.0/15,ES\n'), '--date', '2026-02-30')).err,
    ).toContain('`2026-02-30` is not a day.');
    const none = await service.client('country', 'import', file('none.csv', 'a,b\n'));
    expect([none.code, none.err]).toEqual([4, expect.stringContaining('the country data stays as it was')]);
    expect((await service.client('country', 'show', '198.18.0.9')).out).toContain('Portugal (PT)');
    expect((await service.client('country', 'show', '300.1.1.1')).err).toContain('is not an IP address');
  });
});
