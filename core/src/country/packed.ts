import type { Address, AddressRange, Words } from '../address/index.js';
import type { CountryNetwork } from './networks.js';

/**
 * Networks of country data of one family, in few bytes: there are a million of them and more, and as objects they would
 * take ten times as much. They may overlap, so that they are not searched, only shown. Plain data.
 */
export interface PackedNetworks {
  readonly family: 4 | 6;
  /** The words of first and last addresses, one of IPv4 and four of IPv6. */
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  /** For each network the index of its code in `names`, and its line in the file. */
  readonly codes: Uint16Array;
  readonly lines: Uint32Array;
  readonly names: readonly string[];
}

/** Packs networks of one family; they keep their order. */
export function packNetworks(family: 4 | 6, networks: readonly CountryNetwork[]): PackedNetworks {
  const names = [...new Set(networks.map(({ code }) => code))];
  const numbers = new Map(names.map((name, number) => [name, number]));
  const words = (end: 'first' | 'last') => Uint32Array.from(networks.flatMap(({ range }) => wordsOf(range[end])));
  return {
    family,
    starts: words('first'),
    ends: words('last'),
    codes: Uint16Array.from(networks, ({ code }) => numbers.get(code) as number),
    lines: Uint32Array.from(networks, ({ line }) => line),
    names,
  };
}

/** A network as it was read. */
export function networkAt(
  { family, starts, ends, codes, lines, names }: PackedNetworks,
  index: number,
): CountryNetwork {
  const range = { first: addressAt(family, starts, index), last: addressAt(family, ends, index) } as AddressRange;
  return { range, code: names[codes[index] as number] as string, line: lines[index] as number };
}

const wordsOf = (address: Address): readonly number[] => (address.family === 4 ? [address.value] : address.words);

function addressAt(family: 4 | 6, words: Uint32Array, index: number): Address {
  if (family === 4) return { family, value: words[index] as number };
  return { family, words: [...words.subarray(index * 4, index * 4 + 4)] as unknown as Words };
}
