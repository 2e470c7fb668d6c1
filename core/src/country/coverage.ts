import type { Intervals } from '../address/index.js';
import type { CountryData } from './data.js';

/** How much of the address space country data speaks of. */
export interface Coverage {
  /** How many IPv4 addresses lie in a network, and which part that is of all that there are, from 0 to 1. */
  readonly addresses4: number;
  readonly share4: number;
  /** How many IPv6 networks of 48 bits lie in a network, in whole or in part. */
  readonly sites6: number;
  readonly countries: number;
  /** The countries of which there are networks, the one with most IPv4 addresses first. */
  readonly byCountry: readonly CountryCoverage[];
}

export interface CountryCoverage {
  readonly country: string;
  readonly networks: number;
  readonly addresses4: number;
}

const ALL_4 = 2 ** 32;

/** How much of the address space the data gives a country, and by country. */
export function coverageOf({ four, six }: CountryData): Coverage {
  const addresses4 = sizes(four.intervals, 1, (start, end) => end - start + 1);
  const sites6 = sizes(six.intervals, 4, (_, __, index) => sitesIn(six.intervals, index));
  const shown = byCountry({ four, six });
  return { addresses4, share4: addresses4 / ALL_4, sites6, countries: shown.length, byCountry: shown };
}

function byCountry({ four, six }: Pick<CountryData, 'four' | 'six'>): CountryCoverage[] {
  const found = new Map<string, { country: string; networks: number; addresses4: number }>();
  for (const { networks } of [four, six])
    for (const code of networks.codes) {
      const country = networks.names[code] as string;
      const known = found.get(country) ?? { country, networks: 0, addresses4: 0 };
      known.networks++;
      found.set(country, known);
    }
  const { starts, ends, count } = four.intervals;
  for (let index = 0; index < count; index++) {
    const known = found.get(four.names[four.networks.codes[four.owner[index] as number] as number] as string);
    if (known) known.addresses4 += (ends[index] as number) - (starts[index] as number) + 1;
  }
  return [...found.values()].sort((a, b) => b.addresses4 - a.addresses4 || b.networks - a.networks);
}

function sizes(
  { starts, ends, count }: Intervals,
  width: number,
  sizeOf: (start: number, end: number, index: number) => number,
): number {
  let sum = 0;
  for (let index = 0; index < count; index++)
    sum += sizeOf(starts[index * width] as number, ends[index * width] as number, index);
  return sum;
}

/** The first 48 bits of an IPv6 address, as a number. */
const site = (words: Uint32Array, index: number): number =>
  (words[index * 4] as number) * 2 ** 16 + ((words[index * 4 + 1] as number) >>> 16);

const sitesIn = ({ starts, ends }: Intervals, index: number): number => site(ends, index) - site(starts, index) + 1;
