import fc from 'fast-check';
import { expect } from 'vitest';
import { encodeTable } from '../../column/index.js';
import { pathAsSent, urlAsSent } from '../../hostile/path.arbitrary.js';
import { hostileText } from '../../hostile/text.arbitrary.js';
import { Kernel, plainInstance } from '../../kernel/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import type { LineFault } from '../line.js';
import type { BlockFormat } from '../read/line-format.js';
import type { Mapping } from '../read/mapping.js';
import { tryLinePattern } from '../read/pattern.js';
import { LogReader } from '../read/reader.js';
import type { LineBlock } from './line-blocks.js';
import { countUnreadable } from './parts.js';
import { BlockReader } from './read-block.js';

/** What reading the lines one by one gives. */
function oneByOne(format: BlockFormat, { bytes, firstLine }: LineBlock, mapping?: Mapping) {
  const builder = new ChunkBuilder();
  const rejected: { line: number; fault: LineFault; text: string }[] = [];
  const unreadable = new Map<string, number>();
  const reader = new LogReader(
    {
      request: (request, line, faults) => {
        builder.add(request, firstLine - 1 + line);
        countUnreadable(unreadable, faults);
      },
      rejected: (line, fault, text) => rejected.push({ line: firstLine - 1 + line, fault, text: text.slice(0, 2000) }),
    },
    { format, mapping },
  );
  reader.push(bytes);
  reader.end();
  for (const [field, lines] of reader.missingPlaces) unreadable.set(`${field} no-such-place`, lines);
  return {
    table: builder.build(),
    rejected,
    ignored: [...reader.ignoredFields].sort(),
    unreadable: [...unreadable].sort(),
  };
}

/** Blocks are read by the scanners of the kernel, and by the plain ones, as where a host compiles none. */
const readers = [new BlockReader(), new BlockReader(() => new Kernel(plainInstance()))];

/** Holds the readers of blocks to reading the lines one by one. */
export function expectSame(format: BlockFormat, lines: readonly string[], ending = '\n', mapping?: Mapping) {
  const bytes = new TextEncoder().encode(lines.join(ending));
  const block = { bytes, firstLine: 7, lines: lines.length };
  const expected = oneByOne(format, block, mapping);
  const { table: _, ...shown } = expected;
  for (const reader of readers) {
    const found = reader.read(format, block, mapping);
    expect({
      rejected: found.rejected,
      ignored: [...found.ignored].sort(),
      unreadable: [...found.unreadable].sort(),
    }).toEqual(shown);
    const [table = new ChunkBuilder().build()] = found.tables;
    expect([...table.columns.keys()]).toEqual([...expected.table.columns.keys()]);
    expect(encodeTable(table)).toEqual(encodeTable(expected.table));
  }
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
  pathAsSent,
);
/** Times of which every part may be of another form, or of none. */
const anyTime = fc
  .tuple(
    fc.constantFrom(
      ...[
        '2026-11-09',
        '2024-02-29',
        '0000-01-01',
        '0099-12-31',
        '1969-12-31',
        '1973-03-03',
        '5138-11-16',
        '9999-12-31',
      ],
      ...['2026/11/09', '2026-1-09'],
    ),
    fc.constantFrom('T', 't', ' ', 'x', '', '"', '  '),
    fc.constantFrom('00:17:15', '23:59:59', '24:00:00', '7:17:15', '00:17'),
    fc.oneof(
      fc.constantFrom('', '.', ',', '.0', ',25', '.9999', '.123456789', '.1234567891', '.99999999999999999999'),
      fc.nat(999).map((milliseconds) => `.${String(milliseconds).padStart(3, '0')}`),
    ),
    fc.constantFrom('', 'Z', 'z', ' Z', '+0000', ' -02:30', '+', '-', '+1'),
  )
  .map((parts) => parts.join(''));
const anyClock = fc
  .tuple(
    fc.constantFrom('09', '31', '9', '00'),
    fc.constantFrom('/Nov/', '/nov/', '/Xyz/', '/11/', '-Nov-'),
    fc.constantFrom('2026', '0026', '0099', '0100', '1969', '6053', '9999', '26'),
    fc.constantFrom(':00:17:15', ':24:00:00', ' 00:17:15', ':00:17'),
    fc.constantFrom(' +0000', ' -0130', ' 0000', ' +9999', ' Z', '+0000'),
  )
  .map((parts) => parts.join(''));
const values: Record<string, fc.Arbitrary<unknown>> = {
  time: fc.oneof(
    anyTime,
    anyClock,
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
  url: fc.oneof(fc.constantFrom('https://h.example/p?q', 'h.example:443', 'nonsense'), urlAsSent),
  protocol: fc.constantFrom('HTTP/1.1', 'HTTP/2'),
  user: fc.constantFrom('anonymous', 'Anonymous', 'ANONYMOUS', 'anonymou5', 'a.hazel', '', '-', 'absent', 7),
  agent: fc.oneof(
    fc.constantFrom('absent', 'Absent', '-', '', 'Meadowlark/12.1', 'a "quoted" one', 'naïve', '\u0000'),
    hostileText,
    fc.string(),
  ),
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
const clock = fc.oneof(
  fc.constantFrom(
    ...['09/Nov/2026:00:00:05 +0000', '09/Nov/2026:00:00:59 +0000', '09/Nov/2026:00:00:60 +0000'],
    ...['09/Nov/2026:00:00:61 +0000', '31/Feb/2026:00:00:05 -0130', '09/Nov/2026:00:61:05 +0000'],
  ),
  anyClock,
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

const some = (line: fc.Arbitrary<string>) => fc.array(line, { minLength: 1, maxLength: 12 });

/** A block of JSON Lines is read as its lines one by one are. */
export const jsonReadsAlike = fc.property(some(jsonLine), fc.constantFrom('\n', '\r\n'), (lines, ending) =>
  expectSame('json-lines', lines, ending),
);

/** A block of the combined log format is read as its lines one by one are. */
export const combinedReadsAlike = fc.property(some(combinedLine), (lines) => expectSame('combined', lines));

/** Values that lines of text have, those of an attacker among them, by the field that they are for. */
const TEXTS: Readonly<Record<string, fc.Arbitrary<string>>> = {
  time: fc.oneof(
    clock,
    anyTime,
    fc.constantFrom(
      ...['2026-11-09 00:17:15', '2026-11-09 00:17:15,250', '2026-11-09T00:17:15.5Z', '2026-11-09T00:17:15.123456Z'],
      ...[
        '2026-11-09T00:17:15+02:00',
        '2026-11-09 00:17:15 +0200',
        '2026-11-09T00:17:15',
        '1794211200',
        '1794211200.25',
      ],
      ...['2026-02-30 00:00:00', '2026-11-09 00:17:60', '2026-11-09 00:17:1x', '-', ''],
    ),
  ),
  peer: address,
  user: fc.oneof(word, fc.constantFrom('ana maria', 'a  b', 'Anonymous', '"', ' ', 'x" 200 "y')),
  request: requestLine,
  path,
  host: values.host as fc.Arbitrary<string>,
  port: fc.constantFrom('443', '', '70000', 'x'),
  status: fc.constantFrom('200', '-', '20', '1000', '007', 'x', ''),
  bytes: fc.constantFrom('0', '8823', '-', '99999999999999999999', '1.5'),
  agent: quoted,
  '-': fc.constantFrom('x', '-', '', 'a b', 'naïve', 'a\tb'),
};
const between = fc.constantFrom(' ', ' - ', '] ', ' [', '" "', ', ', '|', '  ', '\t');

/** A pattern of some fields with text between, and lines that are made by it, mostly. */
const patterned = fc
  .tuple(
    fc.shuffledSubarray(Object.keys(TEXTS), { minLength: 1, maxLength: 6 }),
    fc.array(fc.tuple(between, fc.boolean()), { minLength: 7, maxLength: 7 }),
  )
  .chain(([fields, around]) => {
    const shown = (value: (field: string) => string): string =>
      fields
        .map((field, at) => {
          const [text, isQuoted] = around[at] as [string, boolean];
          return `${text}${isQuoted ? `"${value(field)}"` : value(field)}`;
        })
        .join('') + (around[6] as [string, boolean])[0];
    const pattern = shown((field) => `{${field}}`);
    const line = fc.record(Object.fromEntries(fields.map((field) => [field, TEXTS[field] as fc.Arbitrary<string>])));
    const lines = fc.oneof(
      { arbitrary: line.map((each) => shown((field) => each[field] as string)), weight: 6 },
      { arbitrary: line.map((each) => `${shown((field) => each[field] as string)} `), weight: 1 },
      { arbitrary: fc.constantFrom('', ' ', 'something else', pattern), weight: 1 },
    );
    return fc.tuple(fc.constant(pattern), some(lines.map((text) => text.replace(/[\r\n]/g, ''))));
  });

/** A block of text is read by a pattern as its lines one by one are. */
export const textReadsAlike = fc.property(
  patterned,
  fc.constantFrom('\n', '\r\n'),
  fc.constantFrom(undefined, 'UTC', 'Europe/Lisbon'),
  ([pattern, lines], ending, zone) => {
    fc.pre(!('fault' in tryLinePattern(pattern)));
    expectSame('text', lines, ending, { columns: {}, pattern, zone });
  },
);

/** Places of a mapping, some that lines have, some that they have not, and one inside another. */
const MAPPINGS: readonly Readonly<Record<string, string>>[] = [
  { peer: '/request/ip', path: 'request.uri', time: 'ts' },
  { peer: '/request/ip', host: '/request/to/host', status: '/status', agent: '/request/agents/0' },
  { method: 'method', path: '/a.b', host: 'a.b', user: '/request/to/user' },
  { path: '/request/uri', query: '/nowhere/at/all', bytes: 'size', port: '/request/to/port' },
  { path: '/request', host: '/request/host' },
  { 'header.*': '/request/headers', path: '/request/uri', request: '/line' },
  { time: '/request/at', referrer: '/list/1/0', 'forwarded-for': '/request/agents' },
];
const nested = fc.record(
  {
    ts: fc.oneof(
      values.time as fc.Arbitrary<unknown>,
      fc.double({ min: 0, max: 2e9, noNaN: true }),
      fc.constant(1794211200.25),
    ),
    request: fc.oneof(
      {
        arbitrary: fc.record(
          {
            ip: address,
            uri: path,
            at: values.time as fc.Arbitrary<unknown>,
            agents: fc.oneof(fc.array(fc.constantFrom('Thistle', 'a "b"', null, 7, { x: 1 })), fc.constant('10.0.0.1')),
            headers: fc.constantFrom({ 'User-Agent': ['x'] }, {}, null),
            to: fc.oneof(
              fc.record(
                {
                  host: values.host as fc.Arbitrary<unknown>,
                  user: fc.constantFrom('a', 7, null),
                  port: values.port as fc.Arbitrary<unknown>,
                },
                { requiredKeys: [] },
              ),
              fc.constantFrom(null, 'x', [1, { y: [] }]),
            ),
            more: fc.jsonValue(),
          },
          { requiredKeys: [] },
        ),
        weight: 6,
      },
      { arbitrary: fc.constantFrom('x', null, 7, true), weight: 1 },
    ),
    status: fc.constantFrom(200, '200', 1e9, null, -1, 1.5),
    size: fc.nat(),
    'a.b': fc.constantFrom('x.example', null),
    a: fc.constantFrom({ b: 'y.example' }, 1),
    list: fc.constantFrom([['a', 'b'], ['c']], [], 'x'),
    line: requestLine,
    method: fc.constantFrom('GET', 'CONNECT'),
    path,
    agent: fc.constantFrom('by its name'),
    attributes: fc.constantFrom({ 'url.path': '/x' }),
    more: fc.jsonValue(),
    __proto__x: fc.constantFrom({ y: [1] }),
  },
  { requiredKeys: [] },
);
const nestedLine = fc.oneof(
  { arbitrary: fc.tuple(nested, fc.boolean()).map(([value, wide]) => spaced(value, wide)), weight: 12 },
  {
    arbitrary: fc.constantFrom(
      ...[
        '',
        '{}',
        '[]',
        '{"request":{"uri":"/a"',
        '{"request":{"uri":"/a"},"request":{}}',
        '{"request":{"uri":"/a","uri":"/b"}}',
      ],
      ...[
        '{"request":{"uri":"/\\u0061"}}',
        '{"request":[{"uri":"/a"}]}',
        '{"request":{"ip":"10.0.0.1",}}',
        '{"ts":1.5.5,"path":"/"}',
      ],
      ...['{"more":[1,2,{"a":[}],"path":"/"}', '{"more":-,"path":"/"}', '{"request":{"more":"\u0000"},"path":"/"}'],
    ),
    weight: 2,
  },
);

/** A block of nested JSON is read by a mapping as its lines one by one are. */
export const mappedReadsAlike = fc.property(
  some(nestedLine),
  fc.constantFrom(...MAPPINGS),
  fc.constantFrom(undefined, 'UTC', 'Europe/Lisbon'),
  (lines, columns, zone) => expectSame('json-lines', lines, '\n', { columns, zone }),
);
