/**
 * An IP address as numbers. IPv4 is one unsigned 32-bit number; IPv6 is four, most significant first.
 * An IPv4-mapped IPv6 address (::ffff:a.b.c.d) is held as the IPv4 address that it carries.
 */
export type Address = Address4 | Address6;

export interface Address4 {
  readonly family: 4;
  readonly value: number;
}

export interface Address6 {
  readonly family: 6;
  readonly words: Words;
}

export type Words = readonly [number, number, number, number];

/** How many bits an address of the family has. */
export const bitsOf = (family: 4 | 6): 32 | 128 => (family === 4 ? 32 : 128);

/** The address as four 32-bit words; an IPv4 address is the last one. */
export function wordsOf(address: Address): Words {
  return address.family === 4 ? [0, 0, 0, address.value] : address.words;
}

/** An address of the family from four words, of which IPv4 uses the last. */
export function fromWords(family: 4 | 6, words: Words): Address {
  return family === 4 ? { family, value: words[3] } : { family, words };
}

/** Negative, zero or positive as `a` sorts before, at or after `b`. All IPv4 addresses sort before all IPv6 ones. */
export function compareAddresses(a: Address, b: Address): number {
  if (a.family === 4) return b.family === 4 ? a.value - b.value : -1;
  return b.family === 4 ? 1 : compareWords(a.words, b.words);
}

/** Negative, zero or positive as `a` comes before, is or comes after `b`, as unsigned numbers of 128 bits. */
export function compareWords(a: Words, b: Words): number {
  return a[0] - b[0] || a[1] - b[1] || a[2] - b[2] || a[3] - b[3];
}

/** The next address up, or undefined behind the last one of the family. */
export function successor(address: Address): Address | undefined {
  if (address.family === 4) return address.value === 0xffffffff ? undefined : { family: 4, value: address.value + 1 };
  const words: [number, number, number, number] = [...address.words];
  for (let at = 3; at >= 0; at--) {
    words[at] = ((words[at] as number) + 1) >>> 0;
    if (words[at] !== 0) return { family: 6, words };
  }
  return undefined;
}

/** The next address down, or undefined before the first one of the family. */
export function predecessor(address: Address): Address | undefined {
  if (address.family === 4) return address.value === 0 ? undefined : { family: 4, value: address.value - 1 };
  const words: [number, number, number, number] = [...address.words];
  for (let at = 3; at >= 0; at--) {
    if (words[at] !== 0) {
      words[at] = (words[at] as number) - 1;
      return { family: 6, words };
    }
    words[at] = 0xffffffff;
  }
  return undefined;
}
