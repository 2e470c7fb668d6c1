import fc from 'fast-check';
import { expect } from 'vitest';
import { type AddressRange, addressSet, formatAddress, parseAddress, setContains, tryRange } from '../address/index.js';
import { forwardingText } from '../hostile/forwarding.arbitrary.js';
import { findClient, makeRequest } from './index.js';

const trusted = addressSet(['10.10.1.0/28', '2001:db8:10::/64'].map((text) => tryRange(text) as AddressRange));
export const FORWARDED = ['forwarded', 'x-forwarded-for'];

/** «address how» of the client that the peer and headers name. */
export function clientOf(
  peer: string | undefined,
  headers: Record<string, string | readonly string[]>,
  from: readonly string[] = FORWARDED,
  allHeaders = true,
): string {
  const request = makeRequest({
    peer: peer === undefined ? undefined : parseAddress(peer),
    headers: new Map(Object.entries(headers).map(([name, value]) => [name, [value].flat()])),
    allHeaders,
  });
  const { address, how } = findClient(request, { headers: from, trusted });
  return `${address ? formatAddress(address) : '–'} ${how}`;
}

export const xff = (value: string) => ({ 'x-forwarded-for': value });

const node = fc.constantFrom(
  '10.10.1.4',
  '10.10.1.9',
  '203.0.113.5',
  '198.18.0.1:80',
  '[2001:db8:10::1]',
  'unknown',
  '',
);

/** The client is found as by reading elements one by one from the left, where nothing is quoted. */
export const clientAsReadFromTheLeft = fc.property(fc.array(node, { minLength: 1, maxLength: 6 }), (nodes) => {
  const named = nodes.filter((each) => each !== '');
  const readable = named.map((each) => parseAddress(each.replace(/^\[(.*)\]$/, '$1').replace(/^([\d.]+):\d+$/, '$1')));
  const isTrusted = (each: (typeof readable)[number]) => each !== undefined && setContains(trusted, each);
  const last = readable.findLastIndex((each) => !isTrusted(each));
  const expected = named.length === 0 ? undefined : readable[Math.max(last, 0)];
  const shown = expected ? `${formatAddress(expected)} header` : '– unreadable-hop';
  expect(clientOf('10.10.1.4', xff(nodes.join(', ')))).toBe(shown);
  const elements = nodes.map((each) => (each === '' ? '' : `for="${each}"`));
  expect(clientOf('10.10.1.4', { forwarded: elements.join(',') })).toBe(shown);
});

/** Nothing left of the element that a trusted proxy appended changes the client. */
export const clientWhateverStandsLeft = fc.property(
  forwardingText,
  fc.constantFrom('203.0.113.5', '198.18.0.1'),
  (left, seen) => {
    expect(clientOf('10.10.1.4', xff(`${left}, ${seen}`))).toBe(`${seen} header`);
    expect(clientOf('10.10.1.4', { forwarded: `${left}, for=${seen}` })).toBe(`${seen} header`);
  },
);
