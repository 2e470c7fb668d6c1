import { describe, expect, it } from 'vitest';
import { formatAddress } from '../../address/index.js';
import type { LineResult } from '../line.js';
import { readPatternLine, tryLinePattern } from './pattern.js';

/** What a line gives, as plain data: the fields that were seen, or the fault. */
function read(pattern: string, line: string, zone?: string): Record<string, unknown> | string {
  const made = tryLinePattern(pattern);
  if ('fault' in made) return `no pattern: ${made.fault}`;
  const result: LineResult = readPatternLine(line, made, zone, new Map());
  if ('fault' in result) return result.fault.code;
  const { peer, headers, allHeaders, met, time, ...rest } = result.request;
  const shown = {
    ...rest,
    time: time === undefined ? undefined : new Date(time).toISOString(),
    peer: peer && formatAddress(peer),
    headers: headers.size > 0 ? Object.fromEntries(headers) : undefined,
    faults: result.faults?.map(({ field, code }) => `${field} ${code}`),
  };
  return Object.fromEntries(Object.entries(shown).filter(([, value]) => value !== undefined));
}

const GATE = '{time} {peer} {user} "{request}" {status} "{agent}"';

describe('a pattern of text', () => {
  it('takes fields between the text, in quotes up to their end', () => {
    expect(
      read(GATE, '2026-11-09T08:00:00Z 192.0.2.7 rita "GET /a?b=1 HTTP/1.1" 200 "Thistle \\"8\\" (x)"'),
    ).toMatchObject({
      time: '2026-11-09T08:00:00.000Z',
      peer: '192.0.2.7',
      user: 'rita',
      method: 'GET',
      path: '/a',
      query: 'b=1',
      protocol: 'HTTP/1.1',
      status: 200,
      agent: 'Thistle "8" (x)',
    });
  });

  it.each([
    [
      'users with blanks, since the text behind them is more than a blank',
      '{user} [{time}] {peer}',
      'ana maria [2026-11-09T08:00:00Z] 192.0.2.7',
      { user: 'ana maria', peer: '192.0.2.7' },
    ],
    ['any number of blanks for one', '{peer} {method} {path}', '192.0.2.7   GET\t/a', { method: 'GET', path: '/a' }],
    ['a dash for what there is not', '{peer} {user} {host}', '192.0.2.7 - -', { peer: '192.0.2.7', user: '' }],
    ['parts that are not looked at', '{-}] {peer} {-}', 'x [y] 192.0.2.7 rest of it', { peer: '192.0.2.7' }],
    ['braces that are written twice', '{{{peer}}} {path}', '{192.0.2.7} /a', { peer: '192.0.2.7', path: '/a' }],
    [
      'headers by name',
      '{peer} "{header.x-client}"',
      '192.0.2.7 "203.0.113.5"',
      { headers: { 'x-client': ['203.0.113.5'] } },
    ],
    ['IPv6 addresses beside a port', '[{peer}]:{-} {path}', '[2001:db8::7]:443 /a', { peer: '2001:db8::7' }],
    [
      'a day and a time apart',
      '{date} {clock} {peer}',
      '2026-11-09 08:00:00 192.0.2.7',
      { time: '2026-11-09T08:00:00.000Z' },
    ],
    [
      'the time of the combined format',
      '[{time}] {peer}',
      '[09/Nov/2026:08:00:00 +0100] 192.0.2.7',
      { time: '2026-11-09T07:00:00.000Z' },
    ],
    [
      'tunnels',
      '{peer} "{request}"',
      '192.0.2.7 "CONNECT a.example:443 HTTP/1.1"',
      { method: 'CONNECT', host: 'a.example', port: 443 },
    ],
  ])('takes %s', (_, pattern, line, expected) => {
    expect(read(pattern, line)).toMatchObject(expected);
  });

  it('reads times in a form, of the zone where they have no offset', () => {
    const form = '{time: DD.MM.YYYY hh:mm:ss} {peer}';
    expect(read(form, '09.07.2026 08:00:00 192.0.2.7', 'Europe/Lisbon')).toMatchObject({
      time: '2026-07-09T07:00:00.000Z',
    });
    expect(
      read('{time: MMM DD YYYY hh:mm:ss.fff ZZ} {peer}', 'Nov  9 2026 08:00:00.250 -0100 192.0.2.7'),
    ).toMatchObject({
      time: '2026-11-09T09:00:00.250Z',
    });
    // What is not of the form is unseen, and said to be no time.
    expect(read(form, '31.31.2026 08:00:00 192.0.2.7')).toMatchObject({ faults: ['time bad-time'] });
  });

  it.each([
    ['another shape', 'something else altogether'],
    ['an open quote', '2026-11-09T08:00:00Z 192.0.2.7 rita "GET / HTTP/1.1" 200 "Thistle'],
    ['more behind its end', '2026-11-09T08:00:00Z 192.0.2.7 rita "GET / HTTP/1.1" 200 "Thistle" and more'],
    ['an end in the middle', '2026-11-09T08:00:00Z 192.0.2.7'],
  ])('rejects a line of %s', (_, line) => {
    expect(read(GATE, line)).toBe('not-as-pattern');
  });

  it('is not led to another end by the text of a field', () => {
    // The user writes what looks like the rest of the line: the line no longer ends where the pattern does.
    const forged = 'x" 200 "nice" 192.0.2.1 "GET /open HTTP/1.1';
    expect(read('{peer} "{user}" "{request}" {status}', `198.18.0.9 "${forged}" "GET /shut HTTP/1.1" 403`)).toBe(
      'not-as-pattern',
    );
    // A quote that the server escapes ends nothing.
    expect(read('{peer} "{user}" "{request}" {status}', '198.18.0.9 "x\\" y" "GET /shut HTTP/1.1" 403')).toMatchObject({
      user: 'x" y',
      path: '/shut',
      status: 403,
    });
  });

  it('takes a time that grows with the line alone, whatever the line is', () => {
    const line = `${'" '.repeat(20_000)}`;
    const started = performance.now();
    read('{peer} {user} " {method} " {path} " {host} " {status}', line);
    for (const evil of [' '.repeat(60_000), `a${' '.repeat(60_000)}`, 'a '.repeat(30_000), '] '.repeat(30_000)])
      for (const pattern of [GATE, '{user} x', '{user} ] x', '{user}] x {path}', '{-} {user} x {path} y'])
        read(pattern, evil);
    expect(performance.now() - started).toBeLessThan(2000);
  });

  it.each([
    ['{peer', 'open-brace'],
    ['peer} x', 'open-brace'],
    ['{shade} {peer}', 'no-field-name'],
    ['{headers} {peer}', 'no-field-name'],
    ['{peer}{user}', 'side-by-side'],
    ['{peer} {peer}', 'twice'],
    ['{time: hh:mm} {peer}', 'bad-form'],
    ['{peer: x} {user}', 'bad-form'],
    ['{path}', 'matches-all'],
    ['- - -', 'no-fields'],
    ['{-} {-}', 'no-fields'],
    [`{peer} ${'x'.repeat(2001)}`, 'too-long'],
  ])('is refused where it is none: %s', (pattern, fault) => {
    expect(tryLinePattern(pattern)).toMatchObject({ fault });
  });
});
