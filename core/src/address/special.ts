import type { Address } from './address.js';
import { type AddressRange, isRangeFault, tryRange } from './range.js';
import { type AddressSet, addressSet, setContains, setRanges } from './set.js';

/**
 * The blocks of the IANA special-purpose address registries (RFC 6890) that are not globally reachable, and multicast
 * (RFC 5771, RFC 4291), as of RFC 9780 in 2025. What the registries call reachable inside of 192.0.0.0/24 and
 * 2001::/23 is left out: port control and TURN anycast (RFC 7723, RFC 8155, RFC 9665), AMT (RFC 7450), AS112 (RFC 7535),
 * ORCHID version 2 (RFC 7343) and remote identification of drones (RFC 9374).
 */
const BLOCKS = [
  ...['0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12'],
  ...['192.0.0.0-192.0.0.8', '192.0.0.11-192.0.0.255'],
  ...['192.0.2.0/24', '192.168.0.0/16', '198.18.0.0/15', '198.51.100.0/24', '203.0.113.0/24', '224.0.0.0/4'],
  ...['240.0.0.0/4', '::/128', '::1/128', '64:ff9b:1::/48', '100::/63', '2001:db8::/32', '3fff::/20'],
  ...[
    '2001::-2001:1::',
    '2001:1::4-2001:2:ffff:ffff:ffff:ffff:ffff:ffff',
    '2001:4::-2001:4:111:ffff:ffff:ffff:ffff:ffff',
  ],
  ...['2001:4:113::-2001:1f:ffff:ffff:ffff:ffff:ffff:ffff', '2001:40::-2001:1ff:ffff:ffff:ffff:ffff:ffff:ffff'],
  ...['5f00::/16', 'fc00::/7', 'fe80::/10', 'ff00::/8'],
];

/** Special-purpose space: its addresses have no country. */
export const specialPurpose: AddressSet = addressSet(
  BLOCKS.map((block) => {
    const range = tryRange(block);
    if (isRangeFault(range)) throw new Error(`${block} is not a network`);
    return range satisfies AddressRange;
  }),
);

/** The first words of the blocks, from and to, one behind the other: so few are gone through faster than searched. */
function firstWords(family: 4 | 6): Uint32Array {
  const wordOf = (address: Address) => (address.family === 4 ? address.value : address.words[0]);
  return Uint32Array.from(
    setRanges(specialPurpose).flatMap(({ first, last }) =>
      first.family === family ? [wordOf(first), wordOf(last)] : [],
    ),
  );
}

const FOUR = firstWords(4);
const SIX = firstWords(6);

/** Whether the address lies in special-purpose space, so that it has no country. */
export function isSpecialPurpose(address: Address): boolean {
  if (address.family === 4) return isWithin(FOUR, address.value);
  return isWithin(SIX, address.words[0]) && setContains(specialPurpose, address);
}

function isWithin(words: Uint32Array, word: number): boolean {
  for (let at = 0; at < words.length; at += 2)
    if (word >= (words[at] as number) && word <= (words[at + 1] as number)) return true;
  return false;
}
