import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatAddress } from '../../address/index.js';
import type { Request } from '../../request/index.js';
import { partRecord } from './csv.js';
import { detectFormat } from './detect.js';
import { LogReader, type LogReaderOptions } from './reader.js';

/** What was seen of a request, with addresses and headers as plain data. */
function seen({ peer, destination, headers, allHeaders, met, ...rest }: Request): Record<string, unknown> {
  const fields = {
    ...rest,
    peer: peer && formatAddress(peer),
    destination: destination && formatAddress(destination),
    headers:
      headers.size > 0
        ? Object.fromEntries([...headers].map(([name, values]) => [name, values?.length === 1 ? values[0] : values]))
        : undefined,
    allHeaders: allHeaders || undefined,
    met: met.length > 0 ? met : undefined,
  };
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined));
}

interface Found {
  readonly requests: Record<string, unknown>[];
  readonly lines: number[];
  readonly rejected: string[];
  readonly unreadable: string[];
}

function read(file: string | Uint8Array, options: LogReaderOptions = {}, pieceSize = 1_000_000) {
  const found: Found = { requests: [], lines: [], rejected: [], unreadable: [] };
  const reader = new LogReader(
    {
      request: (request, line, faults = []) => {
        found.requests.push(seen(request));
        found.lines.push(line);
        for (const { field, code } of faults) found.unreadable.push(`${line} ${field} ${code}`);
      },
      rejected: (line, fault) => void found.rejected.push(`${line} ${fault.code}`),
    },
    options,
  );
  const bytes = typeof file === 'string' ? new TextEncoder().encode(file) : file;
  for (let at = 0; at < bytes.length; at += pieceSize) reader.push(bytes.subarray(at, at + pieceSize));
  reader.end();
  return { ...found, format: reader.format, ignored: [...reader.ignoredFields.keys()], binary: reader.binary };
}

const TIME = Date.parse('2026-11-09T08:00:00Z');

describe('names of the semantic conventions', () => {
  it('are taken for ours, flat or as attributes', () => {
    const attributes = {
      'http.request.method': 'POST',
      'url.scheme': 'https',
      'server.address': 'tickets.fennelhill.example',
      'server.port': 8443,
      'url.path': '/account/sign-in',
      'url.query': 'next=/',
      'http.response.status_code': 403,
      'user_agent.original': 'Thistle/8.0',
      'network.peer.address': '192.0.2.1',
      'client.address': '198.51.100.7',
      'network.protocol.name': 'http',
      'network.protocol.version': '1.1',
      'http.request.header.x-client': ['203.0.113.5'],
      'http.route': '/account/:page',
    };
    const expected = {
      time: TIME,
      peer: '192.0.2.1',
      method: 'POST',
      scheme: 'https',
      host: 'tickets.fennelhill.example',
      port: 8443,
      path: '/account/sign-in',
      query: 'next=/',
      status: 403,
      agent: 'Thistle/8.0',
      protocol: 'HTTP/1.1',
      headers: { 'x-client': '203.0.113.5' },
    };
    const flat = read(JSON.stringify({ timestamp: '2026-11-09T09:00:00+01:00', ...attributes }));
    expect(flat).toMatchObject({
      requests: [expected],
      format: 'json-lines',
      ignored: ['http.route', 'client.address'],
    });
    expect(read(JSON.stringify({ time: '2026-11-09T08:00:00Z', attributes })).requests).toEqual([expected]);
  });
});

describe('the W3C Extended Log File Format', () => {
  const head = '#Version: 1.0\n#Date: 2026-11-09 00:00:00\n';

  it('is read by its #Fields, which may change', () => {
    const text = `${head}#Fields: date time c-ip cs-method cs(Host) cs-uri-stem cs-uri-query sc-status cs(User-Agent) time-taken
2026-11-09 08:00:00 198.51.100.7 GET tickets.fennelhill.example /tickets day=2 200 Thistle/8.0+(Garden;+device+2) 15
#Fields: time cs-method cs-uri c-ip cs-username cs(X-Client)
08:00:00 CONNECT mail.larchpost.example:443 2001:db8::7 - "a ""b"" c"
08:00 GET / 198.51.100.7 - -
08:00:00 GET
`;
    expect(read(text)).toEqual({
      requests: [
        {
          time: TIME,
          peer: '198.51.100.7',
          method: 'GET',
          host: 'tickets.fennelhill.example',
          path: '/tickets',
          query: 'day=2',
          status: 200,
          agent: 'Thistle/8.0 (Garden; device 2)',
        },
        {
          time: TIME,
          method: 'CONNECT',
          host: 'mail.larchpost.example',
          port: 443,
          peer: '2001:db8::7',
          user: '',
          headers: { 'x-client': 'a "b" c' },
        },
        { method: 'GET', peer: '198.51.100.7', user: '', headers: { 'x-client': [] } },
      ],
      lines: [4, 6, 7],
      rejected: ['8 wrong-columns'],
      unreadable: ['7 time bad-time', '7 url bad-url'],
      format: 'w3c',
      ignored: ['time-taken'],
      binary: false,
    });
  });

  it('rejects lines before any #Fields', () => {
    expect(read(`${head}a b c\n`).rejected).toEqual(['3 no-columns-yet']);
  });
});

describe('CSV', () => {
  it('is read by the names of its columns, with quotes, records of several lines, and rows that are short', () => {
    const text = `Time;Client IP;Method;Host;Path;User-Agent;Shade
2026-11-09T08:00:00Z;198.51.100.7;get;tickets.fennelhill.example;/a;"Thistle ""8""
and more";green
2026-11-09 08:00:00;198.51.100.8;CONNECT;;mail.larchpost.example:443
1794211200;x;GET
`;
    expect(read(text)).toMatchObject({
      requests: [
        { time: TIME, peer: '198.51.100.7', method: 'GET', path: '/a', agent: 'Thistle "8"\nand more' },
        { time: TIME, peer: '198.51.100.8', method: 'CONNECT', host: 'mail.larchpost.example', port: 443 },
        { time: TIME, method: 'GET' },
      ],
      lines: [2, 4, 5],
      rejected: [],
      unreadable: ['5 peer bad-peer'],
      format: 'csv',
      ignored: ['Shade'],
    });
  });

  it('takes columns as the mapping says, headers too, and times of a zone', () => {
    const mapping = {
      columns: { peer: 'Proxy', 'header.x-client': 'Real client', time: 'When' },
      zone: 'Europe/Lisbon',
    };
    const text = 'When,Proxy,Real client,url\n2026-07-01 09:00:00,192.0.2.1,203.0.113.5,https://a.example/x?y\n';
    expect(read(text, { format: 'csv', mapping }).requests).toEqual([
      {
        time: Date.parse('2026-07-01T08:00:00Z'),
        peer: '192.0.2.1',
        headers: { 'x-client': '203.0.113.5' },
        scheme: 'https',
        host: 'a.example',
        path: '/x',
        query: 'y',
      },
    ]);
  });

  it('reports columns of the mapping that are not there, and quotes that never close', () => {
    const mapping = { columns: { peer: 'Prxy' } };
    expect(read('Proxy,host\n192.0.2.1,a.example\n', { format: 'csv', mapping }).rejected).toEqual([
      '1 no-such-column',
    ]);
    expect(read('host,path\na.example,"/x\nb.example,/y\n').rejected).toEqual(['2 open-quote']);
    expect(read(`host,path\na.example,"${'x\n'.repeat(50_000)}\nb.example,/y\n`).rejected[0]).toBe('2 open-quote');
  });

  it('loses no row to a quote that a row above opens and never closes', () => {
    const text = `host,path\na.example,"/x\nb.example,/y\n${'c.example,/z\n'.repeat(200)}`;
    const found = read(text);
    expect(found.rejected).toEqual(['2 open-quote']);
    expect(found.requests).toHaveLength(201);
    expect(found.lines.slice(0, 3)).toEqual([3, 4, 5]);
  });

  it('takes a column of dates for the time where it holds the time of the day too', () => {
    expect(read('Date,host\n2026-11-09 08:00:00,a.example\n').requests).toEqual([{ time: TIME, host: 'a.example' }]);
  });

  it('gives back the fields that were written', () => {
    const field = fc.string({ unit: fc.constantFrom('a', '"', ',', ' ', '\n', ';') });
    fc.assert(
      fc.property(fc.array(field, { minLength: 1, maxLength: 5 }), (fields) => {
        const written = fields.map((each) => `"${each.replaceAll('"', '""')}"`).join(',');
        expect(partRecord(written, ',')).toEqual(fields);
      }),
    );
  });
});

describe('HTTP archives', () => {
  const entry = {
    startedDateTime: '2026-11-09T08:00:00.000Z',
    serverIPAddress: '192.0.2.80',
    request: {
      method: 'GET',
      url: 'https://tickets.fennelhill.example/tickets?day=2',
      httpVersion: 'h2',
      headers: [
        { name: ':authority', value: 'tickets.fennelhill.example' },
        { name: 'User-Agent', value: 'Thistle/8.0 "}]{["' },
      ],
      bodySize: -1,
    },
    response: { status: 200, bodySize: 512, headers: [], content: { text: '"entries": [' } },
  };
  const archive = (entries: unknown[], space?: number) =>
    JSON.stringify({ log: { version: '1.2', creator: { name: 'x' }, pages: [{}], entries, comment: '' } }, null, space);
  const expected = {
    time: TIME,
    method: 'GET',
    scheme: 'https',
    host: 'tickets.fennelhill.example',
    path: '/tickets',
    query: 'day=2',
    protocol: 'HTTP/2',
    agent: 'Thistle/8.0 "}]{["',
    referrer: '',
    status: 200,
    bytes: 512,
    destination: '192.0.2.80',
    allHeaders: true,
  };

  it.each([1, 7, 100_000])('are read entry by entry, in pieces of %i bytes', (pieceSize) => {
    const found = read(archive([entry, {}, entry], 1), {}, pieceSize);
    expect(found).toMatchObject({ requests: [expected, expected], format: 'har' });
    expect(found.rejected.map((each) => each.split(' ')[1])).toEqual(['nothing-known']);
    expect(found.lines[0]).toBeLessThan(found.lines[1] as number);
  });

  it('that are cut off give what is whole', () => {
    const found = read(archive([entry, entry]).slice(0, -300));
    expect([found.requests.length, found.rejected]).toEqual([1, ['1 cut-off']]);
    expect(read('{"log": {"version": "1.2"}}').rejected).toEqual(['1 not-har']);
  });
});

it('takes names that objects have by themselves for any other name', () => {
  const names = ['constructor', '__proto__', 'toString', 'hasOwnProperty'];
  const csv = read(`host,path,${names.join()}\na.example,/,1,2,3,4\n`);
  expect(csv).toMatchObject({ requests: [{ host: 'a.example', path: '/' }], ignored: names });
  const w3c = read(`#Fields: cs-host ${names.join(' ')} cs(__proto__) cs(constructor)\na.example 1 2 3 4 5 6\n`);
  const headers = JSON.parse('{"__proto__": "5", "constructor": "6"}');
  expect(w3c.requests).toEqual([{ host: 'a.example', headers }]);
  expect(w3c.ignored).toEqual(names.map((name) => name.toLowerCase()));
  const flat = read('{"url.path":"/","http.request.header.__proto__":"5","constructor":1}');
  expect(flat.requests).toEqual([{ path: '/', headers: JSON.parse('{"__proto__": "5"}') }]);
  expect(flat.ignored).toEqual(['constructor']);
});

describe('encodings', () => {
  const line = '{"host":"a.example","path":"/é"}\n';
  const expected = [{ host: 'a.example', path: '/é' }];
  const wide = (big: boolean) => {
    const bytes = Buffer.from(`\uFEFF${line}`, 'utf16le');
    return big ? bytes.swap16() : bytes;
  };

  it.each([
    ['UTF-8 with a mark', Buffer.from(`\uFEFF${line}`)],
    ['UTF-16, little end first', wide(false)],
    ['UTF-16, big end first', wide(true)],
    ['UTF-16 without a mark', wide(false).subarray(2)],
    ['eight bits', Buffer.from(line, 'latin1')],
  ])('of %s', (_, bytes) => {
    expect(read(bytes, {}, 9).requests).toEqual(expected);
  });

  it('that are no logs are reported as binary', () => {
    const bytes = Uint8Array.from({ length: 5000 }, (_, at) => (at * 37) % 256);
    expect(read(bytes)).toMatchObject({ binary: true, requests: [] });
  });
});

it.each([
  ['{"log":{"version":"1.2"', 'har'],
  ['#Software: x\n#Fields: time', 'w3c'],
  ['time,host,path\n', 'csv'],
  ['host\tmethod\n', 'csv'],
  ['198.18.0.9 - - [10/Oct/2026:13:55:36 +0000] "GET / HTTP/1.1" 200 1', 'combined'],
  ['', 'combined'],
  ['{"host":"a.example"}', 'json-lines'],
])('a file that starts with %j is %s', (text, format) => {
  expect(detectFormat(text)).toBe(format);
});
