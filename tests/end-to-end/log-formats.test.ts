import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** Logs of every format, through the client: the same requests, however they are written, and a clear word otherwise. */
let service: TestService;
let folder: string;

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-logs-'));
  await service.client('workspace', 'apply', `${DEMO}workspace`);
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

function file(name: string, content: string | Buffer): string {
  writeFileSync(join(folder, name), content);
  return join(folder, name);
}

const lines = readFileSync(`${DEMO}logs/week.jsonl`, 'utf8').split('\n').slice(0, 300);

it('packed with gzip, of one member or several, is the same log', async () => {
  const halves = [lines.slice(0, 100), lines.slice(100)].map((part) => gzipSync(`${part.join('\n')}\n`));
  const plain = await service.client('log', 'import', file('plain.jsonl', `${lines.join('\n')}\n`));
  const packed = await service.client('log', 'import', file('packed.jsonl.gz', Buffer.concat(halves)));
  expect(plain.out).toContain('Imported 300 requests of 300 lines as log plain');
  expect(packed.out).toContain('Imported 300 requests of 300 lines as log packed');
  expect(packed.out).toContain('It has the same content as plain.');
});

it('packed with zstd, and as an archive of files that came through syslog and a container, is the same log', async () => {
  const at = mkdtempSync(join(folder, 'archive-'));
  const half = lines.length / 2;
  const syslog = lines.slice(0, half).map((line) => `<134>1 2026-11-09T00:00:00Z edge gate 17 - - ${line}\n`);
  const container = lines.slice(half).map((line) => `2026-11-09T00:00:00.5Z stdout F ${line}\n`);
  writeFileSync(join(at, '1.log'), syslog.join(''));
  writeFileSync(join(at, '2.log.gz'), gzipSync(syslog.join('')));
  writeFileSync(join(at, '3.log.gz'), gzipSync(syslog.join('')).subarray(0, 500));
  writeFileSync(join(at, 'container.log'), container.join(''));
  const tar = execFileSync('tar', ['-c', '-C', at, '1.log', '2.log.gz', '3.log.gz']);
  const zst = (input: Buffer) => execFileSync('zstd', ['-q', '-c'], { input });
  const plain = await service.client('log', 'import', file('again.jsonl.zst', zst(Buffer.from(lines.join('\n')))));
  expect(plain.out).toContain('Imported 300 requests of 300 lines as log again');
  const archive = await service.client('log', 'import', file('edge.tar.zst', zst(tar)));
  expect(archive.out).toMatch(/Imported (3\d\d) requests of \d+ lines as log edge/);
  expect(archive.out).toContain('3.log.gz: The packed log is cut off; what is in front of that was taken.');
  const { damagedFiles } = (await service.call('GET', '/api/v1/logs/edge')).body;
  expect(damagedFiles).toEqual([{ file: '3.log.gz', reason: 'The packed log is cut off' }]);
  const contained = await service.client('log', 'import', join(at, 'container.log'));
  expect(contained.out).toContain('Imported 150 requests of 150 lines as log container');
  for (const name of ['again', 'edge', 'container']) await service.call('DELETE', `/api/v1/logs/${name}`);
});

it('packed and cut off, damaged, or larger unpacked than the limit, is refused whole', async () => {
  const packed = gzipSync(lines.join('\n'));
  const cut = await service.client('log', 'import', file('cut.gz', packed.subarray(0, packed.length / 2)));
  expect([cut.code, cut.err]).toEqual([4, expect.stringContaining('The packed log is cut off; nothing was imported.')]);
  const damaged = Buffer.from(packed);
  damaged.fill(7, 200, 260);
  expect((await service.client('log', 'import', file('damaged.gz', damaged))).err).toContain('is damaged');
  const small = await startService(['--max-upload', '64KiB']);
  try {
    const bomb = file('bomb.gz', gzipSync('{"host":"a.example"}\n'.repeat(50_000)));
    const refused = await small.client('log', 'import', bomb);
    expect([refused.code, refused.err]).toEqual([4, expect.stringContaining('larger than 65,536 bytes')]);
  } finally {
    await small.stop();
  }
  const { logs } = (await service.call('GET', '/api/v1/logs')).body;
  expect(logs.map(({ name }: { name: string }) => name)).toEqual(['packed', 'plain']);
});

it('of CSV is taken by the names of its columns, or as one says', async () => {
  const csv =
    'When,Proxy,Real client,url,Shade\n2026-11-09 09:00:00,10.20.0.9,198.18.3.3,https://tickets.fennelhill.example/,x\n';
  const how = ['--column', 'time=When', '--column', 'peer=Proxy', '--column', 'header.x-forwarded-for=Real client'];
  const ran = await service.client('log', 'import', file('proxy.csv', csv), ...how, '--zone', 'Europe/Lisbon');
  expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('Imported 1 request of 2 lines as log proxy (csv)')]);
  expect(ran.out).toContain('Ignored fields that requests do not have: Shade (1)');
  const body = (await service.call('GET', '/api/v1/logs/proxy')).body;
  expect(body).toMatchObject({ format: 'csv', firstTime: '2026-11-09T09:00:00.000Z' });

  const wrong = await service.client('log', 'import', file('w.csv', csv), '--column', 'per=Proxy', '--zone', 'Lisbon');
  expect([wrong.code, wrong.err]).toEqual([4, expect.stringContaining('did you mean `peer`?')]);
  expect(wrong.err).toContain('`Lisbon` is no time zone');
});

it('of W3C and HAR is found and read', async () => {
  const w3c =
    '#Fields: date time c-ip cs-method cs(Host) cs-uri-stem\n2026-11-09 08:00:00 198.18.3.3 GET tickets.fennelhill.example /\n';
  expect((await service.client('log', 'import', file('server.log', w3c))).out).toContain('as log server (w3c)');
  const entry = {
    startedDateTime: '2026-11-09T08:00:00Z',
    request: { method: 'GET', url: 'https://tickets.fennelhill.example/', headers: [] },
  };
  const har = JSON.stringify({ log: { version: '1.2', entries: [entry] } });
  expect((await service.client('log', 'import', file('browser.har', har))).out).toContain('as log browser (har)');
});

it('keeps what could not be read, to be fetched as a file', async () => {
  await service.client('log', 'import', file('broken.jsonl', `${lines.join('\n')}\nnot a line\n{"host":7}\n`));
  const to = join(folder, 'rejected.jsonl');
  expect((await service.client('log', 'rejected', 'broken', '--output', to)).out).toContain(`Wrote ${to}.`);
  const written = readFileSync(to, 'utf8')
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line));
  expect(written).toMatchObject([
    { line: 301, code: 'not-json', text: 'not a line' },
    { line: 302, code: 'wrong-type', text: '{"host":7}' },
  ]);
  const nowhere = await service.client('log', 'rejected', 'broken', '--output', join(folder, 'none', 'x'));
  expect([nowhere.code, nowhere.err]).toEqual([1, expect.stringContaining('could not be written')]);
});
