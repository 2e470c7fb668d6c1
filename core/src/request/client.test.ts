import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clientAsReadFromTheLeft, clientOf, clientWhateverStandsLeft, FORWARDED, xff } from './client.property.js';

describe('the client', () => {
  it('is the peer where no header may name it, or none does', () => {
    expect(clientOf('10.10.1.4', xff('203.0.113.5'), [])).toBe('10.10.1.4 peer');
    expect(clientOf('10.10.1.4', {})).toBe('10.10.1.4 peer');
    expect(clientOf(undefined, xff('203.0.113.5'))).toBe('– no-peer');
  });

  it('is the first hop from the right that no trusted proxy vouches for', () => {
    expect(clientOf('10.10.1.4', xff('203.0.113.5'))).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff('1.2.3.4, 203.0.113.5, 10.10.1.9'))).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff('10.10.1.7, 10.10.1.9'))).toBe('10.10.1.7 header');
    expect(clientOf('2001:db8:10::1', xff('2001:db8:40::7'))).toBe('2001:db8:40::7 header');
  });

  it('cannot be forged by a header: an untrusted peer’s is ignored, and hops left of an untrusted one too', () => {
    expect(clientOf('198.19.7.40', xff('203.0.113.5'))).toBe('198.19.7.40 untrusted-peer');
    expect(clientOf('10.10.1.4', xff('203.0.113.5, 198.19.7.40'))).toBe('198.19.7.40 header');
    expect(clientOf('10.10.1.4', { ...xff('198.19.7.40'), forwarded: 'for=203.0.113.5' })).toBe('– headers-disagree');
    expect(clientOf('10.10.1.4', { ...xff('198.19.7.40'), forwarded: 'for=198.19.7.40' })).toBe('198.19.7.40 header');
  });

  it('is unseen where a trusted hop names nothing that can be read: never the proxy', () => {
    expect(clientOf('10.10.1.4', xff('203.0.113.5, nonsense'))).toBe('– unreadable-hop');
    expect(clientOf('10.10.1.4', xff('nonsense, 10.10.1.9'))).toBe('– unreadable-hop');
    expect(clientOf('10.10.1.4', xff('nonsense, 203.0.113.5'))).toBe('203.0.113.5 header');
    for (const nothing of ['', ' ', ',', ' , ,']) expect(clientOf('10.10.1.4', xff(nothing))).toBe('– unreadable-hop');
  });

  it('is unseen where the log does not say which headers a trusted proxy sent, and the peer where it sent none', () => {
    expect(clientOf('10.10.1.4', {}, FORWARDED, false)).toBe('– header-not-logged');
    expect(clientOf('198.19.7.40', {}, FORWARDED, false)).toBe('198.19.7.40 peer');
    expect(clientOf('10.10.1.4', { 'x-forwarded-for': [] }, FORWARDED, false)).toBe('10.10.1.4 peer');
    expect(clientOf('10.10.1.4', xff('203.0.113.5'), FORWARDED, false)).toBe('203.0.113.5 header');
  });

  it('cannot be hidden behind what a client wrote to the left: quotes, length, empty elements, more lines', () => {
    expect(clientOf('10.10.1.4', xff('", 203.0.113.5'))).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff(`${'1.2.3.4,'.repeat(9000)} 203.0.113.5`))).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff('1.2.3.4, , 203.0.113.5, ,'))).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', { 'x-forwarded-for': ['1.2.3.4', '"', '203.0.113.5'] })).toBe('203.0.113.5 header');
    for (const left of ['for="', 'for="\\', 'for=";', '"', 'for=1.2.3.4;by="', '\\"', 'for="a'])
      expect(clientOf('10.10.1.4', { forwarded: `${left}, for=203.0.113.5` }), left).toBe('203.0.113.5 header');
  });

  it('is found as by reading elements one by one from the left, where nothing is quoted', () => {
    fc.assert(clientAsReadFromTheLeft, { numRuns: 500 });
  });

  it('does not depend on anything left of the element that a trusted proxy appended', () => {
    fc.assert(clientWhateverStandsLeft, { numRuns: 2000 });
  });

  it.each([
    ['for=192.0.2.60;proto=http;by=203.0.113.43', '192.0.2.60 header'],
    ['For="[2001:db8:cafe::17]:4711"', '2001:db8:cafe::17 header'],
    ['for=192.0.2.43, for=10.10.1.8', '192.0.2.43 header'],
    ['for="192.0.2.43:47011"', '192.0.2.43 header'],
    ['for=_hidden, for=10.10.1.8', '– unreadable-hop'],
    ['for=unknown', '– unreadable-hop'],
    ['for="_SEVKISEK", for=192.0.2.43', '192.0.2.43 header'],
    ['by="a,b;c";for=192.0.2.43', '192.0.2.43 header'],
    ['for=192.0.2.1;for=192.0.2.2', '– unreadable-hop'],
    ['proto=https', '– unreadable-hop'],
  ])('of `Forwarded: %s` (RFC 7239) is %s', (value, expected) => {
    expect(clientOf('10.10.1.4', { forwarded: value })).toBe(expected);
  });

  it('may be in a header of another name', () => {
    expect(clientOf('10.10.1.4', { 'x-client': '203.0.113.5' }, ['x-client'])).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', { 'x-client': '203.0.113.5:443' }, ['x-client'])).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff('203.0.113.5'), ['x-client'])).toBe('10.10.1.4 peer');
  });
});
