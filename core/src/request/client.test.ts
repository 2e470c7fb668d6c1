import { describe, expect, it } from 'vitest';
import { type AddressRange, addressSet, formatAddress, parseAddress, tryRange } from '../address/index.js';
import { findClient, makeRequest } from './index.js';

const trusted = addressSet(['10.10.1.0/28', '2001:db8:10::/64'].map((text) => tryRange(text) as AddressRange));
const FORWARDED = ['forwarded', 'x-forwarded-for'];

/** «address how» of the client that the peer and headers tell. */
function clientOf(
  peer: string | undefined,
  headers: Record<string, string>,
  from: readonly string[] = FORWARDED,
): string {
  const request = makeRequest({
    peer: peer === undefined ? undefined : parseAddress(peer),
    headers: new Map(Object.entries(headers)),
  });
  const { address, how } = findClient(request, { headers: from, trusted });
  return `${address ? formatAddress(address) : '–'} ${how}`;
}

const xff = (value: string) => ({ 'x-forwarded-for': value });

describe('the client', () => {
  it('is the peer where no header may tell it, or none does', () => {
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

  it('is the last hop that can be read, where one is malformed', () => {
    expect(clientOf('10.10.1.4', xff('203.0.113.5, nonsense'))).toBe('10.10.1.4 malformed-hop');
    expect(clientOf('10.10.1.4', xff('nonsense, 10.10.1.9'))).toBe('10.10.1.9 malformed-hop');
    expect(clientOf('10.10.1.4', xff(''))).toBe('10.10.1.4 malformed-hop');
    expect(clientOf('10.10.1.4', xff('1.2.3.4,'.repeat(2000)))).toBe('10.10.1.4 malformed-hop');
  });

  it.each([
    ['for=192.0.2.60;proto=http;by=203.0.113.43', '192.0.2.60 header'],
    ['For="[2001:db8:cafe::17]:4711"', '2001:db8:cafe::17 header'],
    ['for=192.0.2.43, for=10.10.1.8', '192.0.2.43 header'],
    ['for="192.0.2.43:47011"', '192.0.2.43 header'],
    ['for=_hidden, for=10.10.1.8', '10.10.1.8 malformed-hop'],
    ['for=unknown', '10.10.1.4 malformed-hop'],
    ['for="_SEVKISEK", for=192.0.2.43', '192.0.2.43 header'],
    ['by="a,b;c";for=192.0.2.43', '192.0.2.43 header'],
    ['for=192.0.2.1;for=192.0.2.2', '10.10.1.4 malformed-hop'],
    ['proto=https', '10.10.1.4 malformed-hop'],
  ])('of `Forwarded: %s` (RFC 7239) is %s', (value, expected) => {
    expect(clientOf('10.10.1.4', { forwarded: value })).toBe(expected);
  });

  it('may stand in a header of another name', () => {
    expect(clientOf('10.10.1.4', { 'x-client': '203.0.113.5' }, ['x-client'])).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', { 'x-client': '203.0.113.5:443' }, ['x-client'])).toBe('203.0.113.5 header');
    expect(clientOf('10.10.1.4', xff('203.0.113.5'), ['x-client'])).toBe('10.10.1.4 peer');
  });
});
