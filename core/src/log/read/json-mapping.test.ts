import { describe, expect, it } from 'vitest';
import type { Mapping } from './mapping.js';
import { LogReader } from './reader.js';

function read(lines: readonly unknown[], mapping: Mapping) {
  const requests: Record<string, unknown>[] = [];
  const faults: string[] = [];
  const reader = new LogReader(
    {
      request: ({ headers, peer, ...rest }, _line, of = []) => {
        const all = { ...rest, peer, headers: Object.fromEntries(headers) };
        requests.push(Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)));
        faults.push(...of.map(({ field, code }) => `${field} ${code}`));
      },
      rejected: (_line, { code }) => faults.push(code),
    },
    { mapping },
  );
  reader.push(new TextEncoder().encode(lines.map((line) => JSON.stringify(line)).join('\n')));
  reader.end();
  const missing = Object.fromEntries(reader.missingPlaces);
  return { requests, faults, format: reader.format, ignored: [...reader.ignoredFields.keys()], missing };
}

const NESTED = {
  level: 'info',
  ts: 1794211200.5,
  request: {
    remote_ip: '192.0.2.7',
    method: 'GET',
    host: 'tickets.fennelhill.example',
    uri: '/a?b=1',
    headers: { 'User-Agent': ['Thistle/8.0'], 'X-Client': ['203.0.113.5', '203.0.113.6'] },
  },
  user_id: 17,
  status: 200,
};
const PLACES = {
  time: 'ts',
  peer: '/request/remote_ip',
  method: 'request.method',
  host: 'request.host',
  path: '/request/uri',
  user: 'user_id',
  'header.*': '/request/headers',
};

describe('a mapping of JSON', () => {
  it('takes fields from where it says, by pointer, by dotted names and by name, and the others by their names', () => {
    const found = read([NESTED], { columns: PLACES });
    expect(found).toMatchObject({
      format: 'json-lines',
      faults: [],
      missing: {},
      // What is taken in part counts as known.
      ignored: ['level'],
      requests: [
        {
          time: 1794211200500,
          peer: { family: 4, value: 0xc0000207 },
          method: 'GET',
          host: 'tickets.fennelhill.example',
          path: '/a',
          query: 'b=1',
          user: '17',
          status: 200,
          agent: 'Thistle/8.0',
        },
      ],
    });
    expect(found.requests[0]?.headers).toMatchObject({ 'x-client': ['203.0.113.5', '203.0.113.6'] });
  });

  it.each([
    ['/a~1b/c~0d', { 'a/b': { 'c~d': 'x.example' } }],
    ['a.b', { 'a.b': 'x.example', a: { b: 'y.example' } }],
    ['a.b', { a: { b: 'x.example' } }],
    ['/', { '': 'x.example' }],
    ['/hosts/0', { hosts: ['x.example'] }],
  ])('finds %s as RFC 6901 and the names say', (host, line) => {
    expect(read([{ ...line, path: '/' }], { columns: { host } }).requests[0]?.host).toBe('x.example');
  });

  it.each(['__proto__.polluted', '/constructor/name', 'toString', '/hosts/length'])(
    'finds nothing at %s that the line does not have of its own',
    (host) => {
      const found = read([{ path: '/', hosts: ['x'] }], { columns: { host } });
      expect([found.requests[0]?.host, found.missing]).toEqual([undefined, { host: 1 }]);
    },
  );

  it('counts the lines that have nothing there, and what there cannot be read', () => {
    const lines = [{ a: { ip: '192.0.2.1' } }, { a: {} }, { a: { ip: {} } }, { a: { ip: 'x' } }].map((each) => ({
      ...each,
      path: '/',
    }));
    const found = read(lines, { columns: { peer: '/a/ip' } });
    expect([found.missing, found.faults]).toEqual([{ peer: 1 }, ['peer wrong-type', 'peer bad-peer']]);
  });

  it('reads local times of its zone', () => {
    const found = read([{ when: '2026-07-09 08:00:00', path: '/' }], {
      columns: { time: 'when' },
      zone: 'Europe/Lisbon',
    });
    expect(found.requests[0]?.time).toBe(Date.parse('2026-07-09T07:00:00Z'));
  });

  it('takes the address of a peer with its port', () => {
    for (const text of ['192.0.2.7:51000', '[2001:db8::7]:51000', '192.0.2.7', '2001:db8::7'])
      expect(read([{ from: text, path: '/' }], { columns: { peer: 'from' } }).faults).toEqual([]);
    expect(read([{ from: '192.0.2.7:x', path: '/' }], { columns: { peer: 'from' } }).faults).toEqual(['peer bad-peer']);
  });
});
