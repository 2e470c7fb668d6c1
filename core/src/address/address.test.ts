import { isIPv4, isIPv6 } from 'node:net';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareAddresses, formatAddress, parseAddress, predecessor, successor, tryAddress } from './index.js';

/** Texts that are near to addresses: addresses with a character put in, taken out or changed. */
const nearly = fc
  .tuple(
    fc.oneof(fc.ipV4(), fc.ipV6()),
    fc.nat(45),
    fc.constantFrom('', '.', ':', '0', '1', 'f', 'g', '::', ' ', '/', '-'),
  )
  .map(([text, at, put]) => text.slice(0, at) + put + text.slice(at + 1));

describe('reading an address', () => {
  it('takes what Node takes, and nothing else', () => {
    fc.assert(
      fc.property(fc.oneof(fc.ipV4(), fc.ipV6(), nearly), (text) => {
        expect(parseAddress(text) !== undefined).toBe(isIPv4(text) || isIPv6(text));
      }),
      { numRuns: 5000 },
    );
  });

  it.each([
    ['', 'empty'],
    ['300.1.1.1', 'octet'],
    ['10.0.0', 'shape'],
    ['10.0.0.1.', 'shape'],
    ['10.0.0.010', 'leading-zero'],
    ['1234.1.1.1', 'octet'],
    ['fe80::1%eth0', 'zone'],
    ['::1::', 'shape'],
    ['1:2:3:4:5:6:7:8:9', 'shape'],
    ['1:2:3:4:5:6:7::8', 'shape'],
    ['::ffff:300.1.1.1', 'octet'],
    ['192.168.1.1:80', 'shape'],
  ])('says why %j is none: %s', (text, fault) => {
    expect(tryAddress(text)).toBe(fault);
  });

  it('holds a mapped address as the IPv4 address that it carries', () => {
    expect(parseAddress('::ffff:203.0.113.7')).toEqual(parseAddress('203.0.113.7'));
    expect(parseAddress('::FFFF:cb00:7107')).toEqual(parseAddress('203.0.113.7'));
  });
});

describe('writing an address', () => {
  it('gives back what was read', () => {
    fc.assert(fc.property(fc.ipV4(), (text) => formatAddress(parseAddress(text)!) === text));
  });

  it('writes IPv6 as the WHATWG URL does, which follows RFC 5952', () => {
    fc.assert(
      fc.property(fc.ipV6(), (text) => {
        const address = parseAddress(text)!;
        if (address.family === 6) expect(`[${formatAddress(address)}]`).toBe(new URL(`http://[${text}]/`).hostname);
      }),
      { numRuns: 2000 },
    );
  });

  it.each([
    ['2001:DB8:0:0:1:0:0:1', '2001:db8::1:0:0:1'],
    ['2001:db8:0:1:1:1:1:1', '2001:db8:0:1:1:1:1:1'],
    ['0:0:0:0:0:0:0:0', '::'],
    ['2001:0:0:1:0:0:0:1', '2001:0:0:1::1'],
  ])('writes %s as %s (RFC 5952, section 4)', (text, expected) => {
    expect(formatAddress(parseAddress(text)!)).toBe(expected);
  });
});

describe('neighbours', () => {
  it('are one apart, and end at the ends of the family', () => {
    fc.assert(
      fc.property(fc.oneof(fc.ipV4(), fc.ipV6()), (text) => {
        const address = parseAddress(text)!;
        const next = successor(address);
        if (next) expect([compareAddresses(address, next) < 0, predecessor(next)]).toEqual([true, address]);
      }),
    );
    expect(successor(parseAddress('255.255.255.255')!)).toBeUndefined();
    expect(formatAddress(successor(parseAddress('2001:db8::ffff:ffff')!)!)).toBe('2001:db8::1:0:0');
    expect(predecessor(parseAddress('::')!)).toBeUndefined();
  });
});
