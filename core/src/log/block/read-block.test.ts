import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodeTable } from '../../column/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import type { LineFault } from '../line.js';
import { LogReader } from '../read/reader.js';
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
