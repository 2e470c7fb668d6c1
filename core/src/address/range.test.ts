import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type AddressRange,
  formatRange,
  isRangeFault,
  parseAddress,
  prefixesOf,
  rangeContains,
  rangeSize,
  tryRange,
} from './index.js';

const range = (text: string): AddressRange => {
  const result = tryRange(text);
  if (isRangeFault(result)) throw new Error(`${text}: ${result.reason}`);
  return result;
};

/** Two addresses of IPv4, in order, not too far apart. */
const span4 = fc.tuple(fc.nat(0xffffffff), fc.nat(5000)).map(([first, more]): AddressRange => {
  return { first: { family: 4, value: first }, last: { family: 4, value: Math.min(0xffffffff, first + more) } };
});

describe('reading a range', () => {
  it.each([
    ['203.0.113.7', '203.0.113.7'],
    ['203.0.113.0/24', '203.0.113.0/24'],
    ['203.0.113.0-203.0.113.255', '203.0.113.0/24'],
    ['198.51.100.10-198.51.100.19', '198.51.100.10-198.51.100.19'],
    ['0.0.0.0/0', '0.0.0.0/0'],
    ['2001:db8:40::/48', '2001:db8:40::/48'],
    ['::/0', '::/0'],
    ['::ffff:10.0.0.0/104', '10.0.0.0/8'],
    ['2001:db8::1 - 2001:db8::2', '2001:db8::1-2001:db8::2'],
  ])('takes %s', (text, expected) => {
    expect(formatRange(range(text))).toBe(expected);
  });

  it.each([
    ['10.40.8.1/22', { reason: 'host-bits', network: '10.40.8.0/22' }],
    ['2001:db8::1/64', { reason: 'host-bits', network: '2001:db8::/64' }],
    ['10.0.0.0/33', { reason: 'prefix-length' }],
    ['10.0.0.0/', { reason: 'prefix-length' }],
    ['10.0.0.0/-1', { reason: 'prefix-length' }],
    ['::ffff:10.0.0.0/8', { reason: 'mapped-prefix' }],
    ['10.0.0.9-10.0.0.1', { reason: 'reversed' }],
    ['10.0.0.1-2001:db8::1', { reason: 'families' }],
    ['300.1.1.1/8', { reason: 'octet' }],
  ])('refuses %s', (text, expected) => {
    expect(tryRange(text)).toEqual(expected);
  });
});

describe('parting a range into networks', () => {
  it('covers each address once and nothing else', () => {
    fc.assert(
      fc.property(span4, (whole) => {
        const parts = prefixesOf(whole).map(({ address, length }) =>
          range(`${formatRange({ first: address, last: address })}/${length}`),
        );
        expect(parts[0]?.first).toEqual(whole.first);
        expect(parts.at(-1)?.last).toEqual(whole.last);
        expect(parts.reduce((sum, part) => sum + rangeSize(part), 0n)).toBe(rangeSize(whole));
      }),
    );
  });

  it('gives back a network as itself', () => {
    expect(prefixesOf(range('2001:db8::/33'))).toHaveLength(1);
    expect(prefixesOf(range('0.0.0.0/0'))).toHaveLength(1);
  });
});

it('counts the addresses of a range', () => {
  expect(rangeSize(range('10.0.0.0/8'))).toBe(2n ** 24n);
  expect(rangeSize(range('::/0'))).toBe(2n ** 128n);
});

it('knows its ends as its own', () => {
  const network = range('198.51.100.10-198.51.100.19');
  const holds = (text: string) => rangeContains(network, parseAddress(text)!);
  expect(['198.51.100.9', '198.51.100.10', '198.51.100.19', '198.51.100.20', '2001:db8::1'].map(holds)).toEqual([
    false,
    true,
    true,
    false,
    false,
  ]);
});
