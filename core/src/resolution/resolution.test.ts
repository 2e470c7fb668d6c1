import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatAddress } from '../address/index.js';
import {
  type Answer,
  addressesFor,
  allAnswers,
  answeredHosts,
  answerFor,
  answerSentence,
  compileAnswers,
  isEmpty,
  isPrivateName,
  MOST_ADDRESSES,
  NO_RESOLUTIONS,
  packAnswers,
  type ResolutionFormat,
  type Resolutions,
  readResolutionFile,
  resolutionFaultText,
  unpackAnswers,
} from './index.js';

const SEEN = Date.parse('2026-11-20T08:00:00Z');

/** An answer as a row of the CSV that it could be read from. */
const formatAnswer = ({ host, addresses, seen, holds }: Answer): string =>
  [host, addresses.map(formatAddress).join(' '), new Date(seen).toISOString(), holds ?? ''].join(',');

function read(text: string, format?: ResolutionFormat, origin?: string) {
  const file = readResolutionFile(new TextEncoder().encode(text), { name: 'garden', seen: SEEN, format, origin });
  return {
    format: file.format,
    answers: file.answers.map(formatAnswer),
    faults: file.faults.map((fault) => `${fault.line} ${fault.code}: ${resolutionFaultText(fault)}`),
  };
}

const row = (host: string, addresses: string, holds = '', seen = '2026-11-20T08:00:00.000Z') =>
  `${host},${addresses},${seen},${holds}`;

describe('a CSV file', () => {
  it('gives hosts their addresses, with when they were seen and how long they hold', () => {
    const { format, answers, faults } = read(
      'host,address,seen,holds\nShop.example,198.51.100.7,2026-11-19T00:00:00Z,300\nshop.example.,2001:db8::1\n"bücher.example",203.0.113.9 203.0.113.8\n# nothing\ngone.example,\n',
    );
    expect(format).toBe('csv');
    expect(faults).toEqual([]);
    expect(answers).toEqual([
      row('shop.example', '198.51.100.7 2001:db8::1', '300'),
      row('xn--bcher-kva.example', '203.0.113.8 203.0.113.9'),
      row('gone.example', ''),
    ]);
  });

  it('leaves out faulty rows, each with its line and reason, and keeps the others', () => {
    const { answers, faults } = read(
      `a.example,198.51.100.7\na.example\nnot a host,198.51.100.7\n198.51.100.9,198.51.100.9\nb.example,198.51.100.777\nc.example,198.51.100.7,yesterday\nd.example,198.51.100.7,,soon\ne.example,1.2.3.4,,99999999999\n${'x'.repeat(5000)},1.2.3.4\n`,
      'csv',
    );
    expect(answers).toEqual([row('a.example', '198.51.100.7')]);
    expect(faults.map((fault) => fault.slice(0, 58))).toEqual([
      '2 columns: Expected a host and an address, got: a.example',
      '3 host: This is not a host name: not a host',
      '4 literal: An address needs no resolution: 198.51.100.9',
      '5 address: This is not an IP address: 198.51.100.777',
      '6 time: This is not a time of RFC 3339: yesterday',
      '7 holds: This is not a number of seconds up to 2147483647:',
      '8 holds: This is not a number of seconds up to 2147483647:',
      expect.stringContaining('9 too-long: The line is longer than 4,000 characters'),
    ]);
  });

  it('keeps no more addresses of a host than its bound, and says which are left out', () => {
    const rows = Array.from({ length: MOST_ADDRESSES + 2 }, (_, at) => `a.example,10.0.${at >> 8}.${at & 255}`);
    const { answers, faults } = read([...rows, rows[0]].join('\n'));
    expect(answers[0]?.split(',')[1]?.split(' ')).toHaveLength(MOST_ADDRESSES);
    expect(faults).toEqual([
      '257 too-many-addresses: The host has more than 256 addresses; this one is left out: a.example 10.0.1.0',
      '258 too-many-addresses: The host has more than 256 addresses; this one is left out: a.example 10.0.1.1',
    ]);
  });
});

it('a hosts file gives each name of a line its address', () => {
  const { format, answers, faults } = read(
    '# kept by hand\n10.40.0.9  door.fennelhill.example door  # the gate\n::1 localhost\n10.40.0.300 bad.example\n10.40.0.10\n',
  );
  expect(format).toBe('hosts');
  expect(answers).toEqual([
    row('door.fennelhill.example', '10.40.0.9'),
    row('door', '10.40.0.9'),
    row('localhost', '::1'),
  ]);
  expect(faults.map((fault) => fault.slice(0, 10))).toEqual(['4 address:', '5 columns:']);
});

describe('a zone file', () => {
  it('gives names their addresses, through aliases, with the shortest time to live', () => {
    const { format, answers, faults } = read(`$ORIGIN fennelhill.example.
$TTL 1h ; the default
@       IN SOA ns hostmaster (
          2026112001 ; serial
          3600 900 604800 300 )
        IN NS ns
ns      A       198.51.100.53
tickets 60 IN A 198.51.100.7
        IN 120 A 198.51.100.8
        AAAA    2001:db8::7
www     CNAME   front
front   30 CNAME tickets
txt     TXT     "a ; quoted" "b"
\\116ours A     198.51.100.9
$ORIGIN api.fennelhill.example.
herbarium.fennelhill.example. A 198.51.100.10
@       A       198.51.100.11
`);
    expect(format).toBe('zone');
    expect(faults).toEqual([]);
    expect(answers).toEqual([
      row('ns.fennelhill.example', '198.51.100.53', '3600'),
      row('tickets.fennelhill.example', '198.51.100.7 198.51.100.8 2001:db8::7', '60'),
      row('tours.fennelhill.example', '198.51.100.9', '3600'),
      row('herbarium.fennelhill.example', '198.51.100.10', '3600'),
      row('api.fennelhill.example', '198.51.100.11', '3600'),
      row('www.fennelhill.example', '198.51.100.7 198.51.100.8 2001:db8::7', '30'),
      row('front.fennelhill.example', '198.51.100.7 198.51.100.8 2001:db8::7', '30'),
    ]);
  });

  it('reports loops, aliases to elsewhere, wildcards, includes and relative names without an origin', () => {
    const { answers, faults } = read(`one.example. IN CNAME two.example.
two.example. CNAME three.example.
three.example. CNAME one.example.
out.example. CNAME cdn.elsewhere.example.
*.example. A 198.51.100.7
$INCLUDE other.zone
$GENERATE 1-1000000000 h$ A 10.0.0.$
bare A 198.51.100.8
six.example. A 2001:db8::1
ok.example. A 198.51.100.9
half.example. A
open.example. TXT ( "never
last.example. A 198.51.100.10
`);
    expect(answers).toEqual([row('ok.example', '198.51.100.9'), row('last.example', '198.51.100.10')]);
    expect(faults.map((fault) => fault.split(':')[0])).toEqual([
      '1 loop',
      '2 loop',
      '3 loop',
      '4 outside',
      '5 wildcard',
      '6 directive',
      '7 directive',
      '8 no-origin',
      '9 address',
      '11 record',
      '12 unclosed',
    ]);
    expect(read('bare A 198.51.100.8\n', 'zone', 'fennelhill.example.').answers).toEqual([
      row('bare.fennelhill.example', '198.51.100.8'),
    ]);
  });

  it('gives its aliases no more addresses together than memory has room for', () => {
    const many = Array.from({ length: 300 }, (_, at) => `many.example. A 198.18.${at >> 8}.${at & 255}`);
    const aliases = Array.from({ length: 16_000 }, (_, at) => `c${at}.example. CNAME many.example.`);
    const { answers, faultCount } = readResolutionFile(new TextEncoder().encode([...many, ...aliases].join('\n')), {
      ...{ name: 'x', seen: SEEN, format: 'zone' },
    });
    expect(answers.reduce((sum, { addresses }) => sum + addresses.length, 0)).toBeLessThanOrEqual(4_000_000 + 256);
    // 44 addresses of the one host, and 375 aliases.
    expect([answers.length, faultCount]).toEqual([15_626, 44 + 375]);
  });

  it('of another kind altogether is all faults, of which the first are kept', () => {
    const text = 'no such record\n'.repeat(20_000);
    const { faults, faultCount } = readResolutionFile(new TextEncoder().encode(text), {
      ...{ name: 'x', seen: SEEN, format: 'zone' },
    });
    expect([faults.length, faultCount]).toEqual([10_000, 20_000]);
  });

  it('is read in time whatever is in it', () => {
    const long = `a.example. ${'1'.repeat(200_000)}x A 198.51.100.7\n`;
    const open = `b.example. TXT (${' x\n'.repeat(100_000)}`;
    const chain = Array.from({ length: 20_000 }, (_, at) => `c${at}.example. CNAME c${at + 1}.example.`).join('\n');
    const start = performance.now();
    const opened = 'b.example. TXT (\n'.repeat(200_000);
    const turned = 'b.example. TXT ) ( ) (\n'.repeat(200_000);
    for (const text of [long, open, opened, turned, chain]) expect(read(text, 'zone').answers).toEqual([]);
    expect(performance.now() - start).toBeLessThan(5000);
  });
});

describe('compiled resolutions', () => {
  const from = { kind: 'csv', name: 'made-up' } as const;
  const label = fc.stringMatching(/^[a-z][a-z0-9_-]{0,8}[a-z0-9]$/);
  const host = fc.array(label, { minLength: 1, maxLength: 3 }).map((labels) => labels.join('.'));
  const four = fc.integer({ min: 0, max: 2 ** 32 - 1 }).map((value) => ({ family: 4, value }) as const);
  const word = fc.integer({ min: 0, max: 2 ** 32 - 1 });
  const six = fc.tuple(word, word, word, word).map((words) => ({ family: 6, words }) as const);
  const answer: fc.Arbitrary<Answer> = fc.record({
    host,
    addresses: fc.tuple(fc.array(four, { maxLength: 3 }), fc.array(six, { maxLength: 2 })).map((both) => both.flat()),
    seen: fc.integer({ min: 0, max: 2 ** 41 }),
    holds: fc.option(fc.integer({ min: 0, max: 2 ** 31 - 1 }), { nil: undefined }),
    from: fc.constantFrom(from, { kind: 'dns', name: '10.40.0.53' } as const),
  });

  it('hold the last answer of each host, in the table or later, as a map does', () => {
    fc.assert(
      fc.property(fc.array(answer), fc.array(answer), fc.array(host), (first, second, others) => {
        const expected = new Map([...first, ...second].map((each) => [each.host, each]));
        const resolutions: Resolutions = {
          table: compileAnswers(first),
          later: new Map(second.map((each) => [each.host, each])),
        };
        for (const name of [...expected.keys(), ...others]) {
          expect(answerFor(resolutions, name)).toEqual(expected.get(name));
          expect(addressesFor(resolutions, name)).toEqual(expected.get(name)?.addresses);
        }
        expect(answeredHosts(resolutions)).toBe(expected.size);
        const all = [...allAnswers(resolutions)];
        expect(new Map(all.map((each) => [each.host, each]))).toEqual(expected);
        const kept = [...unpackAnswers(packAnswers(all))];
        expect(new Map(kept.map((each) => [each.host, each]))).toEqual(expected);
      }),
    );
  });

  it('know a literal address by itself, and nothing else where nothing was answered', () => {
    const shown = (name: string) => addressesFor(NO_RESOLUTIONS, name)?.map(formatAddress);
    expect(isEmpty(NO_RESOLUTIONS)).toBe(true);
    expect(shown('198.51.100.7')).toEqual(['198.51.100.7']);
    expect(shown('[2001:db8::7]')).toEqual(['2001:db8::7']);
    for (const name of ['a.example', '__proto__', 'constructor', '7.example', 'x'.repeat(253)])
      expect(shown(name)).toBeUndefined();
  });

  it('are put into a sentence', () => {
    const gone: Answer = { host: 'a.example', addresses: [], seen: SEEN, holds: 60, from };
    expect(answerSentence(gone)).toBe('a.example had no address on 2026-11-20 at 08:00 UTC, by file made-up');
  });
});

it.each([
  ['printer', true],
  ['printer.local', true],
  ['a.home.arpa', true],
  ['vault.internal', true],
  ['x.test', true],
  ['www.visit-portugal.example', false],
  ['local.example', false],
  ['notlocal', true],
  ['a.notlocal.example', false],
])('%s: a private name is %s', (name, isPrivate) => {
  expect(isPrivateName(name)).toBe(isPrivate);
  expect(isPrivateName('vault.fennelhill.example', ['fennelhill.example'])).toBe(true);
});
