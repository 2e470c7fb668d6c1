import { type Address, networkOf } from '@jade-fence/core/address';
import type { CountryNetwork } from '@jade-fence/core/country';
import { Random } from './random.js';

export const COUNTRY_COUNT = 120;
const SEED = 1683;
/** One network in twenty lies inside another, as in public data. */
const NESTED = 0.05;

/** Codes free for made-up countries come first; the others are assigned ones, given to made-up networks. */
export const codes = (): string[] => [
  ...Array.from({ length: 26 }, (_, index) => `X${String.fromCharCode(65 + index)}`),
  ...'PT ES FR GB IE NL DE IT CH AT BE LU DK SE NO FI IS PL CZ SK HU SI HR RO BG GR CY MT EE LV LT UA MD TR IL EG MA DZ TN SN GH NG KE TZ ZA NA BW MZ AO BR AR CL UY PY PE BO EC CO VE GY MX GT CU JM CA US JP KR TW HK SG MY TH VN ID PH IN LK NP BD PK AU NZ FJ PG MN KZ UZ GE AM'.split(
    ' ',
  ),
];

/** Networks of IPv4 side by side, some nested, and of IPv6 below 2001:4000::, each with a country. */
export function largeCountryNetworks(four: number, six: number): CountryNetwork[] {
  const random = new Random(SEED);
  const known = codes().slice(0, COUNTRY_COUNT);
  const networks: CountryNetwork[] = [];
  const add = (address: Address, length: number) =>
    networks.push({ range: networkOf(address, length), code: random.choose(known), line: networks.length + 1 });
  let value = 0x01000000;
  while (networks.length < four) {
    const length = 17 + random.below(8);
    const size = 2 ** (32 - length);
    value = Math.ceil(value / size) * size;
    add({ family: 4, value }, length);
    if (random.chance(NESTED)) add({ family: 4, value: value + random.below(size / 2) }, length + 3);
    value += size;
  }
  networks.length = four;
  let site = 0;
  while (networks.length < four + six) {
    const length = 32 + random.below(17);
    site += 1 + random.below(3);
    add({ family: 6, words: [0x20014000 + (site >>> 2), (site & 3) * 0x40000000, 0, 0] }, Math.max(34, length));
  }
  return networks;
}
