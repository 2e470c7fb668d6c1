import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodeTable } from '../../column/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import type { LineFault } from '../line.js';
import { LogReader } from '../read/reader.js';
import { BlockRows } from './block-rows.js';
import { CombinedScanner } from './combined-scanner.js';
import { JsonScanner } from './json-scanner.js';
import { type LineBlock, LineBlocks } from './line-blocks.js';
import { type BlockFormat, readBlock } from './read-block.js';

/** What reading the lines one by one gives. */
function oneByOne(format: BlockFormat, { bytes, firstLine }: LineBlock) {
  const builder = new ChunkBuilder();
  const rejected: { line: number; fault: LineFault; text: string }[] = [];
  const reader = new LogReader(
    {
      request: (request, line) => builder.add(request, firstLine - 1 + line),
      rejected: (line, fault, text) => rejected.push({ line: firstLine - 1 + line, fault, text: text.slice(0, 2000) }),
    },
    { format },
  );
  reader.push(bytes);
  reader.end();
  return { table: builder.build(), rejected, ignored: [...reader.ignoredFields].sort() };
}

function expectSame(format: BlockFormat, lines: readonly string[], ending = '\n') {
  const bytes = new TextEncoder().encode(lines.join(ending));
  const block = { bytes, firstLine: 7, lines: lines.length };
  const expected = oneByOne(format, block);
  const found = readBlock(format, block);
  expect({ rejected: found.rejected, ignored: [...found.ignored].sort() }).toEqual({
    rejected: expected.rejected,
    ignored: expected.ignored,
  });
  const [table = new ChunkBuilder().build()] = found.tables;
  expect([...table.columns.keys()]).toEqual([...expected.table.columns.keys()]);
  expect(encodeTable(table)).toEqual(encodeTable(expected.table));
}

const address = fc.oneof(
  fc.ipV4(),
  fc.ipV6(),
  fc.constantFrom(
    '10.0.0.1',
    '10.0.0.01',
    '1.2.3',
    '256.1.1.1',
    '[2001:db8::1]',
    '::ffff:10.0.0.1',
    '',
    '-',
    '0.0.0.0',
  ),
);
const path = fc.oneof(
  fc.constantFrom('/', '/a', '/%61', '/a/../b', '/a?b=c', '/a?', '*', '-', '', 'http://h.example/x', 'h.example:443'),
  fc.webPath(),
);
const values: Record<string, fc.Arbitrary<unknown>> = {
  time: fc.oneof(
    fc.date({ min: new Date(0), max: new Date(4e12), noInvalidDate: true }).map((date) => date.toISOString()),
    fc.constantFrom('2026-11-09T00:17:15Z', '2026-11-09T00:17:15+02:00', '2026-11-09T00:17:60Z', 'then', 1e9, 1.5e12),
    fc.constantFrom('2026-02-30T00:00:00Z', '2026-11-09T24:00:00Z', '2026-11-09t00:17:15z', '2026-11-09T00:17:1xZ'),
  ),
  peer: address,
  destination: address,
  method: fc.constantFrom('GET', 'get', 'CONNECT', 'Post', '-'),
  scheme: fc.constantFrom('http', 'HTTPS', ''),
  host: fc.constantFrom(
    'a.example',
    'A.example.',
    'a.example:8443',
    'bücher.example',
    'a b',
    '[::1]:80',
    '-',
    '10.0.0.1',
  ),
  port: fc.oneof(fc.integer({ min: -1, max: 70000 }), fc.constantFrom('443', '', null, 1.5)),
  path,
  query: fc.constantFrom('a=b', '?a=b', '', '-', '?'),
  url: fc.constantFrom('https://h.example/p?q', 'h.example:443', 'nonsense'),
  protocol: fc.constantFrom('HTTP/1.1', 'HTTP/2'),
  user: fc.constantFrom('anonymous', 'a.hazel', '', 'absent', 7),
  agent: fc.oneof(fc.constantFrom('absent', 'Meadowlark/12.1', 'a "quoted" one', 'naïve', '\u0000'), fc.string()),
  referrer: fc.constantFrom('absent', '-', 'https://a.example/'),
  size: fc.oneof(fc.nat(), fc.constantFrom(-1, 2 ** 53, 1e15, '12')),
  status: fc.oneof(fc.integer({ min: 100, max: 599 }), fc.constantFrom(1000, 0)),
  bytes: fc.oneof(fc.nat(), fc.constantFrom(null, true)),
  forwarded: fc.constantFrom('for=10.0.0.1', '-'),
  'forwarded-for': fc.oneof(address, fc.constantFrom('10.0.0.1, 10.0.0.2')),
  headers: fc.constantFrom({ 'X-A': 'b' }, null),
  groups: fc.constantFrom(['a'], 'a', null),
  'url.path': path,
  'http.request.method': fc.constantFrom('GET'),
  attributes: fc.constantFrom({ 'url.path': '/x' }, 'none'),
  latency: fc.oneof(fc.double({ noNaN: true }), fc.constantFrom(0.25, 12, -3, 'slow', null, true, false)),
  __proto__x: fc.constantFrom('y', [1]),
};
const object = fc.record(values, { requiredKeys: [] });
const spaced = (value: object, wide: boolean) =>
  wide ? JSON.stringify(value, null, 1).replace(/\n\s*/g, ' ') : JSON.stringify(value);
const jsonLine = fc.oneof(
  { arbitrary: fc.tuple(object, fc.boolean()).map(([value, wide]) => spaced(value, wide)), weight: 20 },
  {
    arbitrary: fc.constantFrom(
      '',
      '  ',
      '{}',
      '[]',
      'null',
      '{"path":"/a"',
      '{"path":"/a"} x',
      '{"path":"/a",}',
      '{"path":"/a","path":"/b"}',
      '{"latency":1,"latency":2,"path":"/a"}',
      '{"status":007}',
      '{"status":1e2}',
      '{"status":}',
      '{"path":"/\\u0061"}',
      '{"p\\u0061th":"/"}',
      ' {"path":"/a"} ',
    ),
    weight: 4,
  },
);

describe('a block of JSON Lines', () => {
  it('is read as its lines one by one are', { timeout: 60_000 }, () => {
    fc.assert(
      fc.property(fc.array(jsonLine, { minLength: 1, maxLength: 12 }), fc.constantFrom('\n', '\r\n'), (lines, ending) =>
        expectSame('json-lines', lines, ending),
      ),
      { numRuns: 1500 },
    );
  });
});

const word = fc.constantFrom('-', 'a.hazel', 'anonymous', '""', 'x"y', '[', 'naïve');
const quoted = fc.oneof(
  fc.constantFrom('', '-', 'absent', 'Meadowlark/12.1', 'a \\"quoted\\" one', '\\x41', 'naïve', '\u007f'),
  fc.string().map((text) => text.replace(/["\\\n\r]/g, '')),
);
const requestLine = fc.oneof(
  fc
    .tuple(
      fc.constantFrom('GET', 'POST', 'get', 'CONNECT', 'M-SEARCH'),
      fc.oneof(path, fc.constantFrom('a.example:443', 'b.example:80', 'a.example:99999', 'a.example')),
      fc.constantFrom(' HTTP/1.1', ' HTTP/2', ' HTTP/', ' HTTP/12.34.5', ' FTP/1', ''),
    )
    .map((parts) => `${parts[0]} ${parts[1]}${parts[2]}`),
  quoted,
);
const clock = fc.constantFrom(
  '09/Nov/2026:00:00:05 +0000',
  '09/Nov/2026:00:00:59 +0000',
  '09/Nov/2026:00:00:60 +0000',
  '09/Nov/2026:00:00:61 +0000',
  '31/Feb/2026:00:00:05 -0130',
  '9/Nov/2026:00:00:05 +0000',
  '09/Nov/2026:00:61:05 +0000',
);
const combinedLine = fc
  .record({
    host: fc.constantFrom('', 'a.example ', 'A.example:8443 ', '- ', '[::1]:80 ', 'b@d '),
    peer: address,
    ident: word,
    user: word,
    clock,
    requestLine,
    status: fc.constantFrom('200', '-', '20', '2000'),
    bytes: fc.constantFrom('0', '8823', '-', '', '99999999999999999999'),
    more: fc.option(fc.tuple(quoted, quoted), { nil: undefined }),
    end: fc.constantFrom('', '', '', ' ', '\r', ' x'),
  })
  .map((each) => {
    const { host, peer, ident, user, status, bytes, more, end } = each;
    const rest = more ? ` "${more[0]}" "${more[1]}"` : '';
    return `${host}${peer} ${ident} ${user} [${each.clock}] "${each.requestLine}" ${status} ${bytes}${rest}${end}`;
  });

describe('a block of the combined log format', () => {
  it('is read as its lines one by one are', { timeout: 60_000 }, () => {
    fc.assert(
      fc.property(fc.array(combinedLine, { minLength: 1, maxLength: 12 }), (lines) => expectSame('combined', lines)),
      { numRuns: 2000 },
    );
  });
});

describe('the scanners', () => {
  const scanned = (format: BlockFormat, line: string) => {
    const bytes = new TextEncoder().encode(`${line}\n`);
    const scanner = format === 'combined' ? new CombinedScanner(bytes) : new JsonScanner(bytes);
    const end = scanner.scan(0);
    return end === line.length && new BlockRows(new ChunkBuilder(), bytes, {}).add(scanner.fields, 1);
  };

  it.each([
    '{"time":"2026-11-09T00:17:42.112Z","peer":"10.10.1.4","forwarded-for":"198.18.5.194","method":"GET","scheme":"https","host":"tickets.fennelhill.example","path":"/","status":200,"bytes":14497,"agent":"gardenapp/2.3"}',
    '{"time": 1762647462, "peer": "2001:db8::1", "method": "CONNECT", "host": "mail.larchpost.example:443", "latency": 0.25}',
    '{"path":"/search?q=fern","user":"anonymous","trace":"af01","cached":true,"referrer":null}',
  ])('take %s', (line) => expect(scanned('json-lines', line)).toBe(true));

  it.each([
    'tickets.fennelhill.example 198.18.113.87 - - [09/Nov/2026:00:00:15 +0000] "POST /book HTTP/1.1" 303 524 "-" "gardenapp/2.3"',
    'mail.larchpost.example 10.40.0.92 - - [09/Nov/2026:00:00:20 +0000] "CONNECT mail.larchpost.example:443 HTTP/1.1" 200 21480 "-" "-"',
    '10.40.0.92 - a.hazel [09/Nov/2026:00:00:20 +0000] "GET /a?b=c HTTP/1.1" - -',
  ])('take %s', (line) => expect(scanned('combined', line)).toBe(true));
});

describe('a log', () => {
  it('is parted into blocks of whole lines, and loses none', () => {
    const line = fc.oneof(
      { arbitrary: fc.string({ maxLength: 30 }).map((text) => text.replaceAll('\n', '')), weight: 10 },
      { arbitrary: fc.constantFrom('x'.repeat(65_536), 'y'.repeat(65_537), 'z'.repeat(300_000)), weight: 1 },
    );
    fc.assert(
      fc.property(
        fc.array(line, { maxLength: 20 }),
        fc.boolean(),
        fc.constantFrom(1, 3, 100),
        fc.array(fc.integer({ min: 1, max: 400_000 }), { minLength: 1, maxLength: 8 }),
        (lines, ended, mostLines, cuts) => {
          const bytes = new TextEncoder().encode(lines.join('\n') + (ended && lines.length > 0 ? '\n' : ''));
          const found: string[] = [];
          let next = 1;
          const blocks = new LineBlocks(
            (block) => {
              expect(block.firstLine).toBe(next);
              next += block.lines;
              expect(block.lines).toBeLessThanOrEqual(mostLines);
              const text = new TextDecoder().decode(block.bytes);
              const own = (text.endsWith('\n') ? text.slice(0, -1) : text).split('\n');
              expect(own).toHaveLength(block.lines);
              found.push(...own);
            },
            { mostLines, size: 512 * 1024 },
          );
          for (let at = 0, cut = 0; at < bytes.length; at += cuts[cut++ % cuts.length] as number)
            blocks.push(bytes.subarray(at, at + (cuts[cut % cuts.length] as number)));
          blocks.end();
          const told = lines.map((text) => text.slice(0, 65_537));
          if (!ended && told.at(-1) === '') told.pop();
          const same = (a: readonly string[], b: readonly string[]) =>
            a.length === b.length && a.every((text, at) => (b[at] as string).startsWith(text.slice(0, 65_537)));
          expect(same(told, found)).toBe(true);
          expect(found.every((text) => text.length <= 65_537)).toBe(true);
        },
      ),
      { numRuns: 300 },
    );
  });
});
