import { describe, expect, it } from 'vitest';
import type { Mapping } from './mapping.js';
import { detectPrefix } from './prefix.js';
import { LogReader } from './reader.js';

function read(lines: readonly string[], mapping?: Mapping, ending = '\n') {
  const found: string[] = [];
  const reader = new LogReader(
    {
      request: ({ time, path }, line) => {
        found.push(`${line} ${path} ${time === undefined ? '-' : new Date(time).toISOString()}`);
      },
      rejected: (line, { code }) => found.push(`${line} ${code}`),
    },
    { mapping },
  );
  reader.push(new TextEncoder().encode(lines.join(ending)));
  reader.end();
  return { found, format: reader.format, lines: reader.lines };
}

const COMBINED = '192.0.2.7 - - [09/Nov/2026:08:00:00 +0000] "GET /a HTTP/1.1" 200 5 "-" "Thistle"';
const JSON_LINE = '{"host":"a.example","path":"/a"}';
const AT = '2026-11-09T08:00:00.000Z';

describe('lines behind a prefix', () => {
  it.each([
    ['syslog, RFC 5424', '<134>1 2026-11-09T09:00:00.25Z edge nginx 17 - - '],
    ['syslog with structured data', '<134>1 2026-11-09T09:00:00Z edge nginx - ID47 [a@1 b="x \\"]\\" y"][c@2] '],
    ['syslog with a mark of UTF-8', '<134>1 2026-11-09T09:00:00Z edge nginx - - - \uFEFF'],
    ['syslog, RFC 3164', '<13>Nov  9 09:00:00 edge nginx[17]: '],
    ['a file of syslog', 'Nov  9 09:00:00 edge nginx: '],
    ['a file of syslog with whole times', '2026-11-09T09:00:00.123456+00:00 edge nginx[3]: '],
    ['a container', '2026-11-09T09:00:00.123456789Z stdout F '],
  ])('of %s are read as by themselves', (_, prefix) => {
    // The time of the line itself comes first.
    expect(read([prefix + COMBINED, prefix + COMBINED])).toMatchObject({
      format: 'combined',
      found: [`1 /a ${AT}`, `2 /a ${AT}`],
    });
    expect(read([prefix + JSON_LINE]).format).toBe('json-lines');
  });

  it.each([
    ['<134>1 2026-11-09T09:00:00.25Z edge app - - - ', '2026-11-09T09:00:00.250Z'],
    ['<134>1 - edge app - - - ', '-'],
    ['2026-11-09T09:00:00+01:00 edge app: ', '2026-11-09T08:00:00.000Z'],
    // It has no year.
    ['<13>Nov  9 09:00:00 edge app: ', '-'],
    ['2026-11-09T09:00:00.5Z stderr F ', '2026-11-09T09:00:00.500Z'],
  ])('have the time of their prefix where they have none: %s', (prefix, time) => {
    expect(read([prefix + JSON_LINE]).found).toEqual([`1 /a ${time}`]);
  });

  it('are taken out of the objects of containers and of the journal', () => {
    const container = (log: string) => JSON.stringify({ log, stream: 'stdout', time: '2026-11-09T09:00:00.5Z' });
    expect(read([container(`${JSON_LINE}\n`), container(`${COMBINED}\n`), container(`${JSON_LINE}\n`)]).found).toEqual([
      '1 /a 2026-11-09T09:00:00.500Z',
      '2 not-json',
      '3 /a 2026-11-09T09:00:00.500Z',
    ]);
    const journal = (message: unknown) =>
      JSON.stringify({ __REALTIME_TIMESTAMP: '1794214800250000', MESSAGE: message, _PID: '7' });
    const bytes = [...new TextEncoder().encode(JSON_LINE)];
    expect(read([journal(JSON_LINE), journal(bytes), journal(null)]).found.slice(0, 2)).toEqual([
      '1 /a 2026-11-09T09:00:00.250Z',
      '2 /a 2026-11-09T09:00:00.250Z',
    ]);
  });

  it('are joined where a runtime parted them', () => {
    const [start, end] = [JSON_LINE.slice(0, 10), JSON_LINE.slice(10)];
    const at = '2026-11-09T09:00:00Z stdout';
    expect(read([`${at} F ${JSON_LINE}`, `${at} P ${start}`, `${at} F ${end}`, `${at} P ${start}`]).found).toEqual([
      '1 /a 2026-11-09T09:00:00.000Z',
      '2 /a 2026-11-09T09:00:00.000Z',
      '4 not-json',
    ]);
    const part = (log: string) => JSON.stringify({ log, stream: 'stdout', time: '2026-11-09T09:00:00Z' });
    expect(read([part(start), part(`${end}\n`), part(`${JSON_LINE}\n`)]).found).toHaveLength(2);
  });

  it('are joined stream by stream, and rejected whole where they are too long together', () => {
    const [start, end] = [JSON_LINE.slice(0, 10), JSON_LINE.slice(10)];
    const at = '2026-11-09T09:00:00Z';
    const whole = [`${at} stdout F ${JSON_LINE}`, `${at} stdout F ${JSON_LINE}`, `${at} stdout F ${JSON_LINE}`];
    const mixed = [`${at} stdout P ${start}`, `${at} stderr F ${JSON_LINE}`, `${at} stdout F ${end}`];
    expect(read([...whole, ...mixed]).found.slice(3)).toEqual([
      '5 /a 2026-11-09T09:00:00.000Z',
      '4 /a 2026-11-09T09:00:00.000Z',
    ]);
    // Whoever writes a line that is too long must not choose where another one begins.
    const long = 'x'.repeat(40_000);
    const forged = [`${at} stdout P ${long}`, `${at} stdout P ${long}`, `${at} stdout F ${JSON_LINE}`];
    expect(read([...whole, ...forged, whole[0] as string]).found.slice(3)).toEqual([
      '4 too-long',
      '7 /a 2026-11-09T09:00:00.000Z',
    ]);
  });

  it('of the journal’s export are its messages, with their times', () => {
    const entry = [
      '__CURSOR=s=1;i=2',
      '__REALTIME_TIMESTAMP=1794214800250000',
      'PRIORITY=6',
      `MESSAGE=${JSON_LINE}`,
      '_PID=7',
      '',
    ];
    const length = String.fromCharCode(JSON_LINE.length, 0, 0, 0, 0, 0, 0, 0);
    const binary = ['__CURSOR=s=1;i=3', '__REALTIME_TIMESTAMP=1794214801250000', 'MESSAGE', length + JSON_LINE, '', ''];
    expect(read([...entry, ...binary, '__CURSOR=x', `MESSAGE=${JSON_LINE}`]).found).toEqual([
      '4 /a 2026-11-09T09:00:00.250Z',
      '10 /a 2026-11-09T09:00:01.250Z',
      '14 /a -',
    ]);
  });

  it('are rejected by themselves where they are no requests, and keep their numbers', () => {
    const prefix = 'Nov  9 09:00:00 edge nginx: ';
    expect(read([prefix + COMBINED, `${prefix}started`, prefix + COMBINED, COMBINED]).found).toEqual([
      `1 /a ${AT}`,
      '2 not-a-log-line',
      `3 /a ${AT}`,
      `4 /a ${AT}`,
    ]);
  });

  it('are left as they are where a pattern reads all of them', () => {
    const line = '2026-11-09T09:00:00Z edge app: 192.0.2.7 /a';
    const whole = { columns: {}, pattern: '{time} {-} app: {peer} {path}' };
    expect(read([line, line], whole).found[0]).toBe('1 /a 2026-11-09T09:00:00.000Z');
    const inside = { columns: {}, pattern: '{peer} {path}' };
    expect(read([line, line], inside).found[0]).toBe('1 /a 2026-11-09T09:00:00.000Z');
  });
});

it.each([
  [[COMBINED]],
  [[JSON_LINE]],
  [['{"log":"x","path":"/a"}']],
  [['time,host,path', '2026-11-09T09:00:00Z,a.example,/']],
  [['']],
  [[]],
])('sees none in %j', (lines) => {
  expect(detectPrefix(lines)).toBeUndefined();
});

it('takes a time that grows with the line alone', () => {
  const started = performance.now();
  for (const evil of ['['.repeat(60_000), '[a b="'.repeat(10_000), '"\\'.repeat(30_000), ' '.repeat(60_000)])
    detectPrefix([`<1>1 - - - - - ${evil}`, evil]);
  expect(performance.now() - started).toBeLessThan(2000);
});
