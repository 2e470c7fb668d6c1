import { type Address, bitsOf, compareAddresses, fromWords, type Words, wordsOf } from './address.js';
import { formatAddress } from './format.js';
import { type AddressFault, tryAddress } from './parse.js';

/** Addresses of one family from `first` to `last`, both of them included. */
export interface AddressRange {
  readonly first: Address;
  readonly last: Address;
}

/** Why a text is not an address, a network or a range; `network` is what a CIDR with host bits set would have to be. */
export type RangeFault =
  | { readonly reason: AddressFault | 'prefix-length' | 'mapped-prefix' | 'families' | 'reversed' }
  | { readonly reason: 'host-bits'; readonly network: string };

/** Reads an address, a network in CIDR form (RFC 4632, RFC 4291) or a range `a-b`. */
export function tryRange(text: string): AddressRange | RangeFault {
  const slash = text.indexOf('/');
  if (slash >= 0) return cidr(text.slice(0, slash), text.slice(slash + 1));
  const dash = text.indexOf('-');
  if (dash >= 0) return span(text.slice(0, dash).trim(), text.slice(dash + 1).trim());
  const address = tryAddress(text);
  return typeof address === 'string' ? { reason: address } : { first: address, last: address };
}

/** True where a text was no range, and the result says why. */
export const isRangeFault = (result: AddressRange | RangeFault): result is RangeFault => 'reason' in result;

/** The network of the given prefix length, in bits, that the address lies in. */
export function networkOf(address: Address, length: number): AddressRange {
  const hostBits = bitsOf(address.family) - length;
  const words = wordsOf(address);
  const masked = (fill: boolean) => words.map((word, at) => mask(word, hostBits - (3 - at) * 32, fill));
  return {
    first: fromWords(address.family, masked(false) as unknown as Words),
    last: fromWords(address.family, masked(true) as unknown as Words),
  };
}

/** The word with its lowest `bits` cleared, or set where `fill` says so. */
function mask(word: number, bits: number, fill: boolean): number {
  if (bits <= 0) return word;
  const low = bits >= 32 ? 0xffffffff : 2 ** bits - 1;
  return (fill ? word | low : word & ~low) >>> 0;
}

function cidr(base: string, lengthText: string): AddressRange | RangeFault {
  const address = tryAddress(base);
  if (typeof address === 'string') return { reason: address };
  let length = /^\d{1,3}$/.test(lengthText) ? Number(lengthText) : -1;
  // A mapped network such as ::ffff:10.0.0.0/104 is the IPv4 network 10.0.0.0/8.
  if (address.family === 4 && base.includes(':')) {
    if (length >= 0 && length < 96) return { reason: 'mapped-prefix' };
    length -= 96;
  }
  if (length < 0 || length > bitsOf(address.family)) return { reason: 'prefix-length' };
  const network = networkOf(address, length);
  if (compareAddresses(network.first, address) === 0) return network;
  return { reason: 'host-bits', network: `${formatAddress(network.first)}/${length}` };
}

function span(from: string, to: string): AddressRange | RangeFault {
  const first = tryAddress(from);
  const last = tryAddress(to);
  if (typeof first === 'string') return { reason: first };
  if (typeof last === 'string') return { reason: last };
  if (first.family !== last.family) return { reason: 'families' };
  return compareAddresses(first, last) > 0 ? { reason: 'reversed' } : { first, last };
}

/** True where the address is in the range. An address of the other family never is. */
export function rangeContains(range: AddressRange, address: Address): boolean {
  return compareAddresses(range.first, address) <= 0 && compareAddresses(address, range.last) <= 0;
}

/** How many addresses the range holds. */
export function rangeSize(range: AddressRange): bigint {
  const count = (address: Address) => wordsOf(address).reduce((sum, word) => sum * 4294967296n + BigInt(word), 0n);
  return count(range.last) - count(range.first) + 1n;
}
