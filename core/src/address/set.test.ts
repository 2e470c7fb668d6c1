import { BlockList } from 'node:net';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type AddressRange,
  addressSet,
  formatAddress,
  isSpecialPurpose,
  networkOf,
  parseAddress,
  predecessor,
  setContains,
  successor,
  tryRange,
} from './index.js';
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

describe('special-purpose space (RFC 6890)', () => {
  const blocks = (networks: readonly string[]) => {
    const list = new BlockList();
    for (const network of networks) {
      const [address, length] = network.split('/') as [string, string];
      list.addSubnet(address, Number(length), address.includes(':') ? 'ipv6' : 'ipv4');
    }
    return (text: string) => list.check(text, text.includes(':') ? 'ipv6' : 'ipv4');
  };
  const NOT_REACHABLE = [
    ...['0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12', '192.0.0.0/24'],
    ...['192.0.2.0/24', '192.168.0.0/16', '198.18.0.0/15', '198.51.100.0/24', '203.0.113.0/24', '224.0.0.0/4'],
    ...['240.0.0.0/4', '::/128', '::1/128', '64:ff9b:1::/48', '100::/64', '100:0:0:1::/64', '2001::/23'],
    ...['2001:db8::/32', '3fff::/20', '5f00::/16', 'fc00::/7', 'fe80::/10', 'ff00::/8'],
  ];
  const REACHABLE = [
    ...['192.0.0.9/32', '192.0.0.10/32', '2001:1::1/128', '2001:1::2/128', '2001:1::3/128', '2001:3::/32'],
    ...['2001:4:112::/48', '2001:20::/28', '2001:30::/28'],
  ];

  it('is what Node’s block lists make of the registries, at every edge and between', () => {
    const [closed, open] = [blocks(NOT_REACHABLE), blocks(REACHABLE)];
    const edges = [...NOT_REACHABLE, ...REACHABLE].flatMap((text) => {
      const { first, last } = tryRange(text) as AddressRange;
      return [first, last, predecessor(first), successor(last)].flatMap((each) => each ?? []).map(formatAddress);
    });
    const inside = fc.sample(fc.oneof(fc.ipV4(), fc.ipV6(), fc.nat(0x3fffff).map(nearCarved)), 4000);
    for (const text of [...edges, ...inside]) {
      const address = parseAddress(text);
      // An IPv4 address in IPv6 form is IPv4 here.
      const plain = address && formatAddress(address);
      if (address && plain) expect([plain, isSpecialPurpose(address)]).toEqual([plain, closed(plain) && !open(plain)]);
    }
  });

  /** An address in 2001::/23, whose first 38 bits are chosen. */
  const nearCarved = (bits: number) => `2001:${(bits >>> 13).toString(16)}:${((bits & 0x1fff) << 3).toString(16)}::1`;
});
