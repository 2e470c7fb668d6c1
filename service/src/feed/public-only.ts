import { type LookupAddress, lookup } from 'node:dns';
import type { LookupFunction } from 'node:net';
import { isSpecialPurpose, parseAddress } from '@jade-fence/core';

/** Says that a name leads to where a feed may not go. */
export class PrivateTarget extends Error {
  constructor(host: string) {
    super(`${host} is in private address space, which this feed may not reach.`);
  }
}

/** Whether the text is an address that only a network of one’s own has. */
export const isPrivateAddress = (text: string): boolean => {
  const address = parseAddress(text.replace(/^\[(.*)\]$/, '$1'));
  return address !== undefined && isSpecialPurpose(address);
};

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
