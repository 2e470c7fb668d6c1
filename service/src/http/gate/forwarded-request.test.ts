import type { IncomingHttpHeaders } from 'node:http';
import { formatAddress } from '@jade-fence/core/address';
import { describe, expect, it } from 'vitest';
import type { Refusal } from '../../fault/refusal.js';
import { forwardedRequest, requestOf } from './forwarded-request.js';

const PLAIN: IncomingHttpHeaders = {
  'x-forwarded-method': 'GET',
  'x-forwarded-proto': 'https',
  'x-forwarded-host': 'tickets.fennelhill.example',
  'x-forwarded-uri': '/whats-on?day=1',
  'x-forwarded-for': '198.18.4.20',
};

const codeOf = (headers: IncomingHttpHeaders): string | undefined => {
  try {
    forwardedRequest(headers);
    return undefined;
  } catch (error) {
    return (error as Refusal).code;
  }
};

describe('the request that a gateway describes in headers', () => {
  it('has the parts that they name, and the last address as its peer', () => {
    const { peer, ...request } = forwardedRequest({
      ...PLAIN,
      'x-forwarded-for': '203.0.113.9, 10.0.0.1 , 198.18.4.20',
    });
    expect(peer && formatAddress(peer)).toBe('198.18.4.20');
    expect(request).toMatchObject({
      ...{ method: 'GET', scheme: 'https', host: 'tickets.fennelhill.example', path: '/whats-on', query: 'day=1' },
      ...{ agent: '', referrer: '', allHeaders: true },
    });
    expect(request.headers.get('x-forwarded-for')).toEqual(['203.0.113.9, 10.0.0.1']);
  });

  it.each(['authorization', 'connection', 'content-length', 'expect', 'via', 'x-real-ip', 'x-forwarded-uri'])(
    'knows nothing of the header %s, which is the call’s own',
    (name) => {
      const { headers } = forwardedRequest({ ...PLAIN, [name]: PLAIN[name] ?? 'Bearer of-the-gateway' });
      expect([headers.has(name), headers.get(name)]).toEqual([true, undefined]);
    },
  );

  it('takes the authorization that the gateway moved away, the host that was requested, and all other headers', () => {
    const { headers, agent, referrer } = forwardedRequest({
      ...PLAIN,
      ...{ authorization: 'Bearer gateway', 'x-forwarded-authorization': 'Basic visitor', host: 'gate.example' },
      ...{ 'user-agent': 'Meadowlark/2', referer: 'https://a.example/', cookie: 'a=b', 'x-jade-fence-rule': 'forged' },
    });
    expect([agent, referrer]).toEqual(['Meadowlark/2', 'https://a.example/']);
    const seen = ['authorization', 'host', 'cookie', 'x-jade-fence-rule'].map((name) => headers.get(name));
    expect(seen).toEqual([['Basic visitor'], ['tickets.fennelhill.example'], ['a=b'], undefined]);
  });

  it('reads bytes as logs do: as UTF-8, and else one by one', () => {
    const asNodeGives = (text: string) => Buffer.from(text, 'utf8').toString('latin1');
    const read = (agent: string) => forwardedRequest({ ...PLAIN, 'user-agent': agent }).agent;
    expect(read(asNodeGives('Bücherwurm/1 — 薔薇'))).toBe('Bücherwurm/1 — 薔薇');
    expect(read('B\xfccherwurm/1')).toBe('Bücherwurm/1');
    const { path } = forwardedRequest({ ...PLAIN, 'x-forwarded-uri': asNodeGives('/ros\u00e9') });
    expect(path).toBe(forwardedRequest({ ...PLAIN, 'x-forwarded-uri': '/ros%C3%A9' }).path);
  });

  it('has no method where none is given, rather than GET', () => {
    const { 'x-forwarded-method': _, 'x-forwarded-proto': __, ...others } = PLAIN;
    expect(forwardedRequest(others)).toMatchObject({ method: undefined, scheme: undefined });
  });

  it('has no query where there is a path and none behind it', () => {
    expect(forwardedRequest({ ...PLAIN, 'x-forwarded-uri': '/x' })).toMatchObject({ path: '/x', query: '' });
  });

  it.each([
    ['x-forwarded-uri', undefined, 'no-original'],
    ['x-forwarded-uri', '', 'no-original'],
    ['x-forwarded-host', undefined, 'no-original'],
    ['x-forwarded-for', undefined, 'no-original'],
    ['x-forwarded-for', '', 'no-original'],
    ['x-forwarded-for', '198.18.4.20, unknown', 'no-original'],
    ['x-forwarded-for', '198.18.4.20, _hidden', 'no-original'],
    ['x-forwarded-host', 'a b', 'bad-original'],
    // Sent twice, as a client does that hopes for the second.
    ['x-forwarded-host', 'tickets.fennelhill.example, other.example', 'bad-original'],
    ['x-forwarded-host', 'tickets.fennelhill.example:99999', 'bad-original'],
    ['x-forwarded-uri', 'http://other.example/whats-on', 'bad-original'],
    ['x-forwarded-uri', 'http://tickets.fennelhill.example\\@other.example/', undefined],
    ['x-forwarded-uri', 'http://tickets.fennelhill.example@other.example/', 'bad-original'],
    ['x-forwarded-uri', 'HTTP:\\\\other.example/', 'bad-original'],
    ['x-forwarded-uri', 'http://', 'bad-original'],
    ['x-forwarded-uri', 'http://tickets.fennelhill.example/x', undefined],
    ['x-forwarded-uri', 'whats-on', undefined],
    ['x-forwarded-host', 'Tickets.FennelHill.example:443', undefined],
    ['x-forwarded-for', '[2001:db8::1]:4711', undefined],
    ['x-forwarded-for', '198.18.4.20:4711', undefined],
    ['x-forwarded-for', ['203.0.113.1', '198.18.4.20'], undefined],
  ] as const)('with %s as %j: %s', (name, value, code) => {
    expect(codeOf({ ...PLAIN, [name]: value as string })).toBe(code);
  });

  it('keeps a path as it was sent apart from its own slash', () => {
    const path = (uri: string) => forwardedRequest({ ...PLAIN, 'x-forwarded-uri': uri }).path;
    expect(path('admin/x')).toBe('/admin/x');
    expect(path('/%61dmin')).toBe('/admin');
    expect(path('http://tickets.fennelhill.example/admin/x')).toBe('/admin/x');
  });
});

describe('the request of a JSON body', () => {
  it.each([
    [{ host: 'a b' }, 'bad-host'],
    [{ host: 'a.example', port: 70000 }, 'bad-number'],
    [{ peer: '1.2.3' }, 'bad-peer'],
    [{ host: 7 }, 'wrong-type'],
    [{}, 'nothing-known'],
    [{ what: 'else' }, 'nothing-known'],
    [{ host: '' }, 'no-field'],
  ])('%j is refused: %s', (fields, code) => {
    expect(() => requestOf(fields)).toThrow(expect.objectContaining({ code }));
  });

  it('has our time, whatever it says', () => {
    expect(requestOf({ host: 'a.example', time: '1999-01-01T00:00:00Z' }, 1000).time).toBe(1000);
  });
});
