import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Kernel, plainInstance } from '../../kernel/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import type { BlockFormat } from '../read/line-format.js';
import { type Mapping, NO_MAPPING } from '../read/mapping.js';
import { BlockRows } from './block-rows.js';
import { LineBatch } from './line-batch.js';
import { LineBlocks } from './line-blocks.js';
import { BlockReader, scannerOf } from './read-block.js';
import {
  combinedReadsAlike,
  expectSame,
  jsonReadsAlike,
  mappedReadsAlike,
  textReadsAlike,
} from './read-block.property.js';

// Each is looked at longer by the fuzzing, with another seed every time.
it('a block of JSON Lines is read as its lines one by one are', { timeout: 60_000 }, () => {
  fc.assert(jsonReadsAlike, { numRuns: 300 });
});

it('a block of the combined log format is read as its lines one by one are', { timeout: 60_000 }, () => {
  fc.assert(combinedReadsAlike, { numRuns: 400 });
});

it('a block of text is read by a pattern as its lines one by one are', { timeout: 60_000 }, () => {
  fc.assert(textReadsAlike, { numRuns: 600 });
});

it('a block of nested JSON is read by a mapping as its lines one by one are', { timeout: 120_000 }, () => {
  fc.assert(mappedReadsAlike, { numRuns: 500 });
});

describe('a block of more lines and bytes than are scanned at a time is read as its lines one by one are', () => {
  const agent = 'Meadowlark/12.1 '.repeat(20);
  const many = (lineOf: (at: number) => string) => Array.from({ length: 5000 }, (_, at) => lineOf(at));
  const clock = (at: number) => `09/Nov/2026:00:${String(at % 60).padStart(2, '0')}:15 +0${at % 3}00`;

  it.each<readonly [string, (at: number) => object | string]>([
    [
      'lines of which many have to be left',
      (at) => (at % 97 === 0 ? `{"path":"/\\u0041","port":${at}}` : { path: `/${at}` }),
    ],
    ['more keys than are known', (at) => ({ path: '/a', [`key-${at}`]: at, again: at })],
    [
      'very many keys in each',
      (at) => ({
        path: '/a',
        ...Object.fromEntries(Array.from({ length: at % 70 }, (_, key) => [key, String(key)])),
      }),
    ],
    [
      'a line that is longer than all that is scanned at a time',
      (at) => ({ path: at === 3000 ? '/x'.repeat(300_000) : '/x' }),
    ],
    [
      'times as numbers near a whole millisecond, with more digits than are exact',
      (at) => {
        const seconds = ['0', '7', '1762647462', '9999999999', '99999999999', '100000000000'][at % 6];
        const digits = ['999', '000', '969', '970', '029', '030'][Math.floor(at / 6) % 6];
        return `{"path":"/a","time":${seconds}.${String(at % 1000).padStart(3, '0')}${digits}${'9'.repeat(at % 13)}}`;
      },
    ],
    ['times as numbers, of all lengths', (at) => `{"path":"/a","time":${(1_762_647_462 + at / 7).toFixed(at % 12)}}`],
    [
      'keys in another order each time',
      (at) => (at % 2 ? { agent, host: `h${at}.example` } : { host: 'a.example:81', agent }),
    ],
  ])('%s', (_, lineOf) => {
    const lines = many((at) => {
      const line = lineOf(at);
      return typeof line === 'string' ? line : JSON.stringify(line);
    });
    expectSame('json-lines', lines);
    expectSame('json-lines', lines, '\r\n');
  });

  it.each<readonly [string, (at: number) => string]>([
    [
      'with and without a host',
      (at) =>
        `${at % 2 ? 'a.example ' : ''}10.0.${at % 256}.1 - - [${clock(at)}] "GET /${at} HTTP/1.1" 200 1 "-" "${agent}"`,
    ],
    [
      'of which many have to be left',
      (at) => `10.0.0.1 - - [${clock(at)}] "GET /${at % 5 ? 'a' : '\\x20'} HTTP/1.1" 200 - "" "-"`,
    ],
    [
      'of times that differ in the minute and the zone alone, by the same bit',
      (at) => `10.0.0.1 - - [09/Nov/2026:12:3${at & 1}:00 +01${at & 1}0] "GET / HTTP/1.1" 200 1`,
    ],
    [
      'of tunnels',
      (at) => `a.example 10.0.0.1 - u [${clock(at)}] "CONNECT ${at % 3 ? 'a' : 'b'}.example:443 HTTP/2" 200 5`,
    ],
  ])('%s', (_, lineOf) => expectSame('combined', many(lineOf)));
});

it('gives the memory back that a block with very many long values took', () => {
  let made = 0;
  const reader = new BlockReader(() => {
    made++;
    return new Kernel();
  });
  const read = (lines: readonly string[]) =>
    reader.read('json-lines', { bytes: new TextEncoder().encode(lines.join('\n')), firstLine: 1, lines: lines.length });
  read(['{"path":"/a"}']);
  read(['{"path":"/a"}']);
  expect(made).toBe(1);
  const agent = 'Meadowlark '.repeat(2500);
  const long = Array.from({ length: 1000 }, (_, at) => `{"agent":"${at} ${agent}","referrer":"${at} ${agent}"}`);
  expect(read(long).tables[0]?.rows).toBe(1000);
  read(['{"path":"/a"}']);
  expect(made).toBe(2);
});

it('keeps one node for each place, whether lines have objects or lists on the way to it', () => {
  let made = 0;
  const reader = new BlockReader(() => {
    made++;
    return new Kernel();
  });
  const depth = 14;
  const mapping = { columns: { agent: `/a${'/0'.repeat(depth)}` } };
  // Each line goes by objects and lists in another order.
  const lines = Array.from({ length: 2 ** depth }, (_, way) => {
    let inside = `"${way}"`;
    for (let bit = 0; bit < depth; bit++) inside = (way >> bit) & 1 ? `{"0":${inside}}` : `[${inside}]`;
    return `{"a":${inside}}`;
  });
  const bytes = new TextEncoder().encode(lines.join('\n'));
  for (let time = 0; time < 2; time++)
    expect(reader.read('json-lines', { bytes, firstLine: 1, lines: lines.length }, mapping).tables[0]?.rows).toBe(
      2 ** depth,
    );
  // It did not take so much memory that it was let go of.
  expect(made).toBe(1);
  expectSame('json-lines', lines.slice(0, 2000), '\n', mapping);
});

/** Whether the scanner of a block takes the line, and its fields a row. */
function isTaken(line: string, format: BlockFormat, mapping: Mapping, kernel: Kernel): boolean {
  const bytes = new TextEncoder().encode(`${line}\n`);
  const batch = new LineBatch(kernel);
  const end = batch.take(bytes, 0);
  expect(scannerOf(format, bytes, mapping, batch).scan(batch, 0, 0, end)).toBe(1);
  batch.intern(1);
  const rows = new BlockRows(new ChunkBuilder(), bytes, batch, {});
  rows.look(1, 0);
  return batch.ends[0] === line.length && !rows.isLeft(0);
}

// A scanner that leaves lines is right, and slow, which no comparison shows.
describe('the scanners, plain and compiled,', () => {
  const expectTaken = (line: string, format: BlockFormat, mapping = NO_MAPPING) => {
    const kernels = [new Kernel(), new Kernel(plainInstance())];
    expect(kernels.map((kernel) => isTaken(line, format, mapping, kernel))).toEqual([true, true]);
  };

  it.each([
    '{"time":"2026-11-09T00:17:42.112Z","peer":"10.10.1.4","forwarded-for":"198.18.5.194","method":"GET","scheme":"https","host":"tickets.fennelhill.example","path":"/","status":200,"bytes":14497,"agent":"gardenapp/2.3"}',
    '{"time": 1762647462, "peer": "2001:db8::1", "method": "CONNECT", "host": "mail.larchpost.example:443", "latency": 0.25}',
    '{"time":1762647462.25,"path":"/a","latency":0.00012345678901234567}',
    '{"path":"/search?q=fern","user":"anonymous","trace":"af01","cached":true,"referrer":null}',
    '{"path":"/a","tls":{"version":"1.3","sent":[1,-2.5,{}],"name":null},"more":[]}',
  ])('take %s', (line) => expectTaken(line, 'json-lines'));

  it('take times of more digits than are exact, compiled', () => {
    expect(isTaken('{"time":1762647462.1234567,"path":"/a"}', 'json-lines', NO_MAPPING, new Kernel())).toBe(true);
  });

  it.each([
    'tickets.fennelhill.example 198.18.113.87 - - [09/Nov/2026:00:00:15 +0000] "POST /book HTTP/1.1" 303 524 "-" "gardenapp/2.3"',
    'mail.larchpost.example 10.40.0.92 - - [09/Nov/2026:00:00:20 +0000] "CONNECT mail.larchpost.example:443 HTTP/1.1" 200 21480 "-" "-"',
    '10.40.0.92 - a.hazel [09/Nov/2026:00:00:20 +0000] "GET /a?b=c HTTP/1.1" - -',
  ])('take %s', (line) => expectTaken(line, 'combined'));

  it('take nested JSON where a mapping says that the fields are', () => {
    const line =
      '{"level":"info","ts":1794211200.25,"request":{"ip":"198.18.4.20","tls":{"v":[1,-2.5]},"uri":"/a?b","agents":["x","y"]},"status":200}';
    const columns = { time: 'ts', peer: '/request/ip', path: 'request.uri', agent: '/request/agents/1' };
    expectTaken(line, 'json-lines', { columns });
  });

  const COMBINED = '{host} {peer} - {user} [{time}] "{request}" {status} {bytes} "{referrer}" "{agent}"';
  it.each([
    [COMBINED, 'a.example 10.40.0.92 - - [09/Nov/2026:00:00:20 +0000] "GET /a?b=c HTTP/1.1" 200 5 "-" "Thistle/8.0"'],
    [
      COMBINED,
      'a.example 10.40.0.92 - - [09/Nov/2026:00:00:20 +0000] "CONNECT a.example:443 HTTP/1.1" 200 5 "-" "Thistle/8.0"',
    ],
    ['{time} {peer} {path} {-} {status}', '2026-11-09 00:17:15,250 10.0.0.1 /a x 200'],
    ['{time} {peer} {path} {-} {status}', '2026-11-09T00:17:15.123456Z 10.0.0.1 /a - -'],
    ['{time} {peer} {user}', '2026-11-09T00:17:15 10.0.0.1 ana maria'],
  ])('take %s of text', (pattern, line) => expectTaken(line, 'text', { columns: {}, pattern }));
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
          const shown = lines.map((text) => text.slice(0, 65_537));
          if (!ended && shown.at(-1) === '') shown.pop();
          const same = (a: readonly string[], b: readonly string[]) =>
            a.length === b.length && a.every((text, at) => (b[at] as string).startsWith(text.slice(0, 65_537)));
          expect(same(shown, found)).toBe(true);
          expect(found.every((text) => text.length <= 65_537)).toBe(true);
        },
      ),
      { numRuns: 300 },
    );
  });
});
