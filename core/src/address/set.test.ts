import { BlockList } from 'node:net';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addressSet, formatAddress, isSpecialPurpose, networkOf, parseAddress, setContains } from './index.js';
import { setRanges } from './set.js';

/** Networks close together, so that they nest, touch and overlap often. */
const network4 = fc.tuple(fc.nat(0xffff), fc.integer({ min: 14, max: 32 })).map(([low, length]) => ({
  family: 4 as const,
  length,
  ...networkOf({ family: 4, value: 0xc6120000 + low }, length),
}));
const network6 = fc.tuple(fc.nat(0xffff), fc.integer({ min: 110, max: 128 })).map(([low, length]) => ({
  family: 6 as const,
  length,
  ...networkOf({ family: 6, words: [0x20010db8, 0, 0, low] }, length),
}));

describe('a set of addresses', () => {
  it('holds what Node’s block list holds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(network4, network6), { maxLength: 30 }),
        fc.array(fc.nat(0x1ffff), { maxLength: 20 }),
        (networks, probes) => {
          const oracle = new BlockList();
          for (const { first, length, family } of networks)
            oracle.addSubnet(formatAddress(first), length, `ipv${family}`);
          const set = addressSet(networks);
          for (const probe of probes) {
            const four = { family: 4 as const, value: 0xc6120000 + probe };
            const six = { family: 6 as const, words: [0x20010db8, 0, 0, probe] as const };
            expect(setContains(set, four)).toBe(oracle.check(formatAddress(four), 'ipv4'));
            expect(setContains(set, six)).toBe(oracle.check(formatAddress(six), 'ipv6'));
          }
        },
      ),
    );
  });

  it('merges ranges that touch', () => {
    const set = addressSet([networkOf(parseAddress('10.0.1.0')!, 24), networkOf(parseAddress('10.0.0.0')!, 24)]);
    expect(setRanges(set)).toEqual([networkOf(parseAddress('10.0.0.0')!, 23)]);
  });

  it('reaches to the last address of each family', () => {
    const all = addressSet([networkOf(parseAddress('255.255.255.255')!, 0), networkOf(parseAddress('ffff::')!, 0)]);
    expect(
      ['0.0.0.0', '255.255.255.255', '::', 'ffff:ffff:ffff:ffff:ffff:ffff:ffff:ffff'].map((text) =>
        setContains(all, parseAddress(text)!),
      ),
    ).toEqual([true, true, true, true]);
    expect(setContains(addressSet([]), parseAddress('10.0.0.1')!)).toBe(false);
  });
});

it('knows special-purpose space (RFC 6890)', () => {
  const special = [
    '10.1.2.3',
    '100.64.0.1',
    '127.0.0.1',
    '169.254.1.1',
    '172.31.0.1',
    '192.168.0.1',
    '198.19.0.1',
    '203.0.113.9',
    '240.0.0.1',
    '::1',
    'fd00::1',
    'fe80::1',
    '2001:db8::1',
  ];
  const common = ['8.0.0.1', '172.32.0.1', '100.128.0.1', '192.169.0.1', '2a00::1', '2002::1'];
  expect(special.filter((text) => !isSpecialPurpose(parseAddress(text)!))).toEqual([]);
  expect(common.filter((text) => isSpecialPurpose(parseAddress(text)!))).toEqual([]);
});
