import { type Address, bitsOf, compareAddresses, successor } from './address.js';
import { formatAddress } from './format.js';
import { type AddressRange, networkOf } from './range.js';

/** A network: its first address and its length in bits. */
export interface Prefix {
  readonly address: Address;
  readonly length: number;
}

/** The fewest networks that together are the range, in order. At most 2 × the bits of the family. */
export function prefixesOf(range: AddressRange): Prefix[] {
  const found: Prefix[] = [];
  let address: Address | undefined = range.first;
  while (address !== undefined && compareAddresses(address, range.last) <= 0) {
    const length = widestAt(address, range.last);
    found.push({ address, length });
    address = successor(networkOf(address, length).last);
  }
  return found;
}

/** The length of the widest network that starts at the address and does not pass `last`. */
function widestAt(address: Address, last: Address): number {
  let length: number = bitsOf(address.family);
  while (length > 0) {
    const wider = networkOf(address, length - 1);
    if (compareAddresses(wider.first, address) !== 0 || compareAddresses(wider.last, last) > 0) break;
    length--;
  }
  return length;
}

/** The prefix in CIDR notation (RFC 4632), such as `10.40.0.0/16`. */
export const formatPrefix = (prefix: Prefix): string => `${formatAddress(prefix.address)}/${prefix.length}`;

/** The range as a person would write it: one address, a network, or `a-b`. */
export function formatRange(range: AddressRange): string {
  if (compareAddresses(range.first, range.last) === 0) return formatAddress(range.first);
  const length = widestAt(range.first, range.last);
  const whole = compareAddresses(networkOf(range.first, length).last, range.last) === 0;
  return whole
    ? formatPrefix({ address: range.first, length })
    : `${formatAddress(range.first)}-${formatAddress(range.last)}`;
}
