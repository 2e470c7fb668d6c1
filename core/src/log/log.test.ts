import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatAddress } from '../address/index.js';
import { decodeTable, encodeTable } from '../column/index.js';
import { hostileText } from '../hostile/text.arbitrary.js';
import { makeRequest, type Request } from '../request/index.js';
import {
  ChunkBuilder,
  ChunkRows,
  detectFormat,
  LineSplitter,
  LogReader,
  readCombinedLine,
  readJsonLine,
} from './index.js';
import { urlsAsNode } from './log.property.js';

/** The fields of a request that were seen, with addresses and headers as plain data. */
function seenOf({ peer, headers, allHeaders, met, ...rest }: Request): Record<string, unknown> {
  const fields = {
    ...rest,
    allHeaders: allHeaders || undefined,
    met: met.length > 0 ? met : undefined,
    peer: peer && formatAddress(peer),
    headers:
      headers.size > 0
        ? Object.fromEntries([...headers].map(([name, values]) => [name, values?.length === 1 ? values[0] : values]))
        : undefined,
  };
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined));
}

const json = (value: unknown) => {
  const result = readJsonLine(typeof value === 'string' ? value : JSON.stringify(value), new Map());
  return 'request' in result ? seenOf(result.request) : result.fault.code;
};

const combined = (line: string) => {
  const result = readCombinedLine(line);
  return 'request' in result ? seenOf(result.request) : result.fault.code;
};

describe('JSON Lines', () => {
  it('are read by our short field names', () => {
    const line = {
      time: '2026-11-09T08:00:00Z',
      peer: '10.10.1.4',
      'forwarded-for': '198.18.0.9',
      method: 'get',
      scheme: 'HTTPS',
      host: 'Tickets.Fennelhill.example:8443',
      path: '/a/../b?c=1',
      status: 200,
      bytes: '512',
      user: null,
      agent: '-',
    };
    expect(json(line)).toEqual({
      time: Date.parse('2026-11-09T08:00:00Z'),
      peer: '10.10.1.4',
      method: 'GET',
      scheme: 'https',
      host: 'tickets.fennelhill.example',
      port: 8443,
      path: '/b',
      query: 'c=1',
      status: 200,
      bytes: 512,
      agent: '',
      headers: { 'x-forwarded-for': '198.18.0.9' },
    });
  });

  it('take a URL in one, times as numbers, IPv6, and other headers', () => {
    expect(
      json({
        url: 'https://user:x@[2001:DB8::1]:444/x?y',
        peer: '[2001:db8::2]',
        time: 1_795_000_000.5,
        headers: { 'X-Client': '203.0.113.5' },
      }),
    ).toEqual({
      allHeaders: true,
      agent: '',
      referrer: '',
      scheme: 'https',
      host: '[2001:db8::1]',
      port: 444,
      path: '/x',
      query: 'y',
      peer: '2001:db8::2',
      time: 1_795_000_000_500,
      headers: { 'x-client': '203.0.113.5' },
    });
  });

  it.each([
    ['{', 'not-json'],
    ['[]', 'not-an-object'],
    ['null', 'not-an-object'],
    ['{}', 'nothing-known'],
    ['{"foo":1}', 'nothing-known'],
    ['{"time":"yesterday"}', 'bad-time'],
    ['{"time":-1}', 'bad-time'],
    ['{"peer":"300.1.1.1"}', 'bad-peer'],
    ['{"peer":7}', 'wrong-type'],
    ['{"host":"a b"}', 'bad-host'],
    ['{"host":"a.example:99999"}', 'bad-host'],
    ['{"status":"ok"}', 'bad-number'],
    ['{"status":-1}', 'bad-number'],
    ['{"url":"/x"}', 'bad-url'],
    ['{"headers":[]}', 'wrong-type'],
  ])('that are %s are rejected: %s', (line, code) => {
    expect(json(line)).toBe(code);
  });

  const faults = (line: object) => {
    const result = readJsonLine(JSON.stringify(line), new Map());
    return 'request' in result ? (result.faults ?? []).map(({ field, code }) => `${field} ${code}`) : result.fault.code;
  };

  it('leave unseen what cannot be read, field by field, and take the rest', () => {
    const line = {
      ...{
        time: 'then',
        peer: '300.1.1.1',
        url: 'http://',
        host: 'a b',
        port: 99999,
        path: '/x',
        status: 'ok',
        size: -1,
      },
      ...{ method: 'get', user: 7, groups: [''], bytes: 1.5, destination: 'x', headers: { a: {}, b: 'c', d: [[]] } },
    };
    expect(json(line)).toEqual({ method: 'GET', path: '/x', headers: { b: 'c' } });
    expect(faults(line)).toEqual([
      ...['time bad-time', 'user wrong-type', 'groups wrong-type', 'size bad-number', 'status bad-number'],
      ...['bytes bad-number', 'destination bad-destination', 'peer bad-peer', 'url bad-url', 'host bad-host'],
      ...['port bad-number', 'header.a wrong-type', 'header.d wrong-type'],
    ]);
    expect([json({ time: null, host: '-' }), json({ agent: null })]).toEqual(['no-field', 'no-field']);
  });

  it('take headers of several values, of none, and one truth for the agent and the referrer', () => {
    expect(json({ headers: { X: ['alpha', 'beta'], x: 'gamma', y: [], n: 5, t: true, z: null } })).toMatchObject({
      allHeaders: true,
      headers: { x: ['alpha', 'beta', 'gamma'], y: [], n: '5', t: 'true' },
    });
    const shown = json({ headers: { 'User-Agent': 'Thistle/8.0', referer: 'https://a.example/' } });
    expect(shown).toEqual({ allHeaders: true, agent: 'Thistle/8.0', referrer: 'https://a.example/' });
    expect(json({ 'some-headers': { 'user-agent': ['a', 'b'] }, host: 'a.example' })).toEqual({
      host: 'a.example',
      headers: { 'user-agent': ['a', 'b'] },
    });
    expect(json({ agent: 'x', 'some-headers': { 'user-agent': 'y' } })).toEqual({
      agent: 'x',
      headers: { 'user-agent': 'y' },
    });
    for (const user of ['anonymous', 'Anonymous', 'ANONYMOUS', '-', '']) expect(json({ user })).toEqual({ user: '' });
  });

  it('read a URL, a host in a target, and zones of addresses as servers do', () => {
    expect(json({ url: 'http://blocked.example\\@allowed.example/x' })).toMatchObject({
      host: 'blocked.example',
      path: '/@allowed.example/x',
    });
    expect(json({ path: 'http://app.example/admin/x?y' })).toMatchObject({
      ...{ scheme: 'http', host: 'app.example', path: '/admin/x', query: 'y' },
    });
    expect(json({ peer: 'fe80::1%eth0' })).toEqual({ peer: 'fe80::1' });
  });

  it('read every absolute URL as the WHATWG URL parser does', () => {
    fc.assert(urlsAsNode, { numRuns: 5000 });
  });

  it('count the fields that are not ours', () => {
    const ignored = new Map<string, number>();
    readJsonLine('{"host":"a.example","__proto__":1,"colour":2}', ignored);
    expect([...ignored]).toEqual([
      ['__proto__', 1],
      ['colour', 1],
    ]);
  });
});

it('counts unknown fields in bounded memory', () => {
  const ignored = new Map<string, number>();
  for (let line = 0; line < 1000; line++) readJsonLine(`{"host":"a.example","field-${line}":1}`, ignored);
  expect([ignored.size, ignored.get('(others)')]).toEqual([101, 900]);
});

describe('the combined log format', () => {
  const base = {
    time: Date.parse('2026-10-10T12:55:36Z'),
    peer: '198.18.0.9',
    method: 'GET',
    protocol: 'HTTP/1.1',
    path: '/x',
    status: 200,
    bytes: 512,
    user: '',
  };
  const line = (before: string, call: string, after = '') =>
    `${before}198.18.0.9 - - [10/Oct/2026:13:55:36 +0100] "${call}" 200 512${after}`;

  it('is read with and without a host, a port, and the last two fields', () => {
    expect(combined(line('', 'GET /x HTTP/1.1'))).toEqual(base);
    expect(combined(line('tickets.fennelhill.example ', 'GET /x HTTP/1.1', ' "-" "Thistle/8.0"'))).toEqual({
      ...base,
      host: 'tickets.fennelhill.example',
      referrer: '',
      agent: 'Thistle/8.0',
    });
    expect(combined(line('Tickets.fennelhill.example:8443 ', 'GET /x HTTP/1.1', ' "https://a.example/" "-"'))).toEqual({
      ...base,
      host: 'tickets.fennelhill.example',
      port: 8443,
      referrer: 'https://a.example/',
      agent: '',
    });
  });

  it('undoes the escapes of servers', () => {
    expect(combined(line('', 'GET /x HTTP/1.1', String.raw` "-" "a \"quoted\" \x41gent\\"`))).toMatchObject({
      agent: 'a "quoted" Agent\\',
    });
  });

  it('takes tunnels, absolute targets and request lines that are none', () => {
    expect(combined(line('', 'CONNECT mail.larchpost.example:443 HTTP/1.1'))).toMatchObject({
      method: 'CONNECT',
      host: 'mail.larchpost.example',
      port: 443,
    });
    expect(combined(line('', 'CONNECT mail.larchpost.example:443 HTTP/1.1'))).not.toHaveProperty('path');
    expect(combined(line('proxy.example ', 'GET http://timetable.valleybus.example/today HTTP/1.1'))).toMatchObject({
      host: 'timetable.valleybus.example',
      path: '/today',
      scheme: 'http',
    });
    expect(combined(line('', String.raw`\x16\x03\x01`))).toEqual({
      time: base.time,
      peer: base.peer,
      status: 200,
      bytes: 512,
      user: '',
    });
    expect(combined(line('', '-'))).not.toHaveProperty('method');
  });

  it('takes IPv6, users and dashes', () => {
    expect(combined('2001:db8::1 - ines [10/Oct/2026:13:55:36 +0000] "GET / HTTP/2.0" - -')).toEqual({
      time: Date.parse('2026-10-10T13:55:36Z'),
      peer: '2001:db8::1',
      user: 'ines',
      method: 'GET',
      path: '/',
      protocol: 'HTTP/2.0',
    });
  });

  it.each([
    ['nonsense'],
    ['198.18.0.9 - [10/Oct/2026:13:55:36 +0000] "GET / HTTP/1.1" 200 1'],
    ['198.18.0.9 - - [10/Oct/2026:13:55:36 +0000] GET / HTTP/1.1 200 1'],
  ])('rejects %s', (text) => {
    expect(combined(text)).toBe('not-a-log-line');
  });

  const faults = (text: string) => {
    const result = readCombinedLine(text);
    return 'request' in result ? (result.faults ?? []).map(({ field, code }) => `${field} ${code}`) : [result.fault];
  };

  it.each([
    ['host.example - -', '10/Oct/2026:13:55:36 +0000', ['peer bad-peer'], ['peer', 'host']],
    ['a..b 198.18.0.9 - -', '10/Oct/2026:13:55:36 +0000', ['host bad-host'], ['host']],
    ['198.18.0.9 - -', '32/Oct/2026:13:55:36 +0000', ['time bad-time'], ['time']],
    ['198.18.0.9 - -', '10/Okt/2026:13:55:36 +0000', ['time bad-time'], ['time']],
    ['198.18.0.9 - -', '10/Oct/2026:13:61:36 +0000', ['time bad-time'], ['time']],
  ])('leaves unseen what it cannot read, and takes the rest: %s [%s]', (who, time, expected, unseen) => {
    const text = `${who} [${time}] "GET /x HTTP/1.1" 200 1`;
    expect(faults(text)).toEqual(expected);
    expect(combined(text)).toMatchObject({ method: 'GET', path: '/x', status: 200 });
    for (const field of unseen) expect(combined(text)).not.toHaveProperty(field);
  });

  it.each([
    [':8081 127.0.0.1 - -', { port: 8081, peer: '127.0.0.1', user: '' }],
    ['203.0.113.7 - john smith', { peer: '203.0.113.7', user: 'john smith' }],
    [
      'tickets.fennelhill.example 203.0.113.7 - john a smith',
      { host: 'tickets.fennelhill.example', peer: '203.0.113.7', user: 'john a smith' },
    ],
    ['198.51.100.4 203.0.113.7 - ines', { host: '198.51.100.4', peer: '203.0.113.7', user: 'ines' }],
    ['tickets.fennelhill.example - - -', { host: 'tickets.fennelhill.example', user: '' }],
    ['fe80::1%eth0 - Anonymous', { peer: 'fe80::1', user: '' }],
  ])('distinguishes host, peer and user: %s', (who, expected) => {
    const { host, port, peer, user } = combined(`${who} [10/Oct/2026:13:55:36 +0000] "GET / HTTP/1.1" 200 1`) as never;
    expect(
      Object.fromEntries(Object.entries({ host, port, peer, user }).filter(([, each]) => each !== undefined)),
    ).toEqual(expected);
  });
});

describe('parting bytes into lines', () => {
  it('gives the same lines however the bytes come', () => {
    const lines = fc.array(
      fc.string({ unit: 'grapheme', maxLength: 12 }).map((text) => text.replace(/[\r\n]/g, '')),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(
        lines,
        fc.array(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 5 }),
        (expected, sizes) => {
          const bytes = new TextEncoder().encode(`${expected.join('\n')}\n`);
          const splitter = new LineSplitter(1000);
          const found: (string | undefined)[] = [];
          for (let at = 0, turn = 0; at < bytes.length; turn++) {
            const size = sizes[turn % sizes.length] as number;
            splitter.push(bytes.subarray(at, at + size), (line) => found.push(line));
            at += size;
          }
          splitter.end((line) => found.push(line));
          // A mark at the start of the file is none of its first line.
          const first = expected[0]?.replace(/^\uFEFF/, '');
          expect(found).toEqual(expected.length === 0 ? [''] : [first, ...expected.slice(1)]);
        },
      ),
    );
  });

  it('passes over a line that is too long, in bounded memory, and goes on', () => {
    const splitter = new LineSplitter(10);
    const found: (string | undefined)[] = [];
    for (let piece = 0; piece < 1000; piece++)
      splitter.push(new TextEncoder().encode('x'.repeat(100)), (line) => found.push(line));
    splitter.push(new TextEncoder().encode('\r\nshort\r\nlast'), (line) => found.push(line));
    splitter.end((line) => found.push(line));
    expect(found).toEqual([undefined, 'short', 'last']);
  });
});

describe('reading a log', () => {
  function readAll(text: string, format?: 'json-lines' | 'combined') {
    const found = { requests: [] as number[], rejected: [] as string[] };
    const reader = new LogReader(
      {
        request: (_, line) => void found.requests.push(line),
        rejected: (line, fault) => void found.rejected.push(`${line} ${fault.code}`),
      },
      { format },
    );
    reader.push(new TextEncoder().encode(text));
    reader.end();
    return { ...found, format: reader.format, lines: reader.lines };
  }

  it('finds the format, keeps what cannot be read, and passes over empty lines', () => {
    expect(readAll('{"host":"a.example"}\n\n{broken\n{"host":"b.example"}')).toEqual({
      requests: [1, 4],
      rejected: ['3 not-json'],
      format: 'json-lines',
      lines: 4,
    });
    const apache = '198.18.0.9 - - [10/Oct/2026:13:55:36 +0000] "GET / HTTP/1.1" 200 1';
    expect(readAll(`nonsense\n${apache}\n${apache}\n`)).toMatchObject({
      requests: [2, 3],
      rejected: ['1 not-a-log-line'],
      format: 'combined',
    });
    expect(readAll(`{"host":"a.example"}\n${'x'.repeat(70_000)}\n`)).toMatchObject({
      requests: [1],
      rejected: ['2 too-long'],
    });
    expect(readAll('')).toMatchObject({ requests: [], rejected: [] });
  });

  it('detects by what most lines are', () => {
    expect(detectFormat('# nothing\nnothing')).toBe('combined');
    expect(detectFormat('{"host":\n{"host":"a.example"}')).toBe('json-lines');
  });

  it('holds to the format that is given', () => {
    expect(readAll('{"host":"a.example"}', 'combined')).toMatchObject({ requests: [], rejected: ['1 not-a-log-line'] });
  });
});

describe('chunks', () => {
  const text = fc.option(fc.oneof(fc.constantFrom('a', 'bc', 'ü'), hostileText), { nil: undefined });
  const whole = (max: number) => fc.option(fc.nat(max), { nil: undefined });
  const peer = fc.option(
    fc.oneof(
      fc.nat(0xffffffff).map((value) => ({ family: 4 as const, value })),
      fc.constant({ family: 6 as const, words: [0x20010db8, 0, 0, 1] as const }),
    ),
    { nil: undefined },
  );
  const headers = fc
    .dictionary(
      fc.constantFrom('x-forwarded-for', 'forwarded', 'x-client'),
      fc.array(fc.oneof(fc.string(), hostileText), { maxLength: 3 }),
    )
    .map((entries) => new Map(Object.entries(entries)));
  const anyRequest: fc.Arbitrary<Request> = fc
    .record({
      time: whole(2 ** 31),
      peer,
      method: text,
      scheme: text,
      host: text,
      port: whole(65535),
      path: text,
      query: text,
      protocol: text,
      user: text,
      agent: text,
      referrer: text,
      size: whole(1e9),
      status: whole(999),
      bytes: whole(1e12),
      headers,
    })
    .map(makeRequest);

  it('give back the requests that were put in, also through their layout', () => {
    fc.assert(
      fc.property(fc.array(anyRequest, { maxLength: 30 }), (requests) => {
        const builder = new ChunkBuilder();
        requests.forEach((each, index) => {
          builder.add(each, index + 7);
        });
        // Behind an odd byte of a Node buffer, as a database driver gives it: nothing is aligned there.
        const stored = Buffer.concat([Buffer.from([1]), encodeTable(builder.build())]).subarray(1);
        const rows = new ChunkRows(decodeTable(stored));
        expect(Array.from({ length: rows.rows }, (_, row) => rows.request(row))).toEqual(requests);
        expect(Array.from({ length: rows.rows }, (_, row) => rows.line(row))).toEqual(
          requests.map((_, index) => index + 7),
        );
      }),
    );
  });
});
