import { type LookupAddress, lookup } from 'node:dns';
import type { LookupFunction } from 'node:net';
import { type Address, isSpecialPurpose, parseAddress } from '@jade-fence/core/address';

/** Says that a name leads to where a feed may not go. */
export class PrivateTarget extends Error {
  constructor(host: string) {
    super(`${host} is in private address space, which may not be reached.`);
  }
}

/** Whether the text is an address that only a network of one’s own has, in whichever form it is written. */
export const isPrivateAddress = (text: string): boolean => {
  const address = parseAddress(text.replace(/^\[(.*)\]$/, '$1'));
  return address !== undefined && (isSpecialPurpose(address) || isSiteLocal(address) || hidesPrivate(address));
};

const isSiteLocal = ({ family, ...address }: Address): boolean =>
  family === 6 && ((address as { words: readonly number[] }).words[0] as number) >>> 22 === 0x3fb;

/**
 * Whether an IPv6 address has a private IPv4 address in it, to which a translator or a tunnel would lead: NAT64
 * (RFC 6052), 6to4 (RFC 3056), IPv4-compatible (RFC 4291, 2.5.5.1).
 */
function hidesPrivate(address: Address): boolean {
  if (address.family === 4) return false;
  const [a, b, c, d] = address.words;
  const isNat64 = a === 0x0064ff9b && b === 0 && c === 0;
  const isCompatible = a === 0 && b === 0 && c === 0;
  const is6to4 = a >>> 16 === 0x2002;
  const inside = isNat64 || isCompatible ? d : is6to4 ? (((a & 0xffff) << 16) | (b >>> 16)) >>> 0 : undefined;
  return inside !== undefined && isSpecialPurpose({ family: 4, value: inside });
}

/**
 * Looks names up as Node does, and refuses those that lead to private addresses: the address that was looked at is the
 * one that is connected to, so that a name cannot lead elsewhere the second time.
 */
export const lookUpPublic: LookupFunction = (host, options, done) => {
  lookup(host, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return done(error, '', 0);
    if (found.some(({ address }) => isPrivateAddress(address))) return done(new PrivateTarget(host), '', 0);
    const [first] = found;
    if (options.all) return done(null, found);
    done(null, first?.address ?? '', first?.family ?? 0);
  });
};
