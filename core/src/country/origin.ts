import { type Address, isSpecialPurpose } from '../address/index.js';
import type { CountryData, CountryIntervals, Origin } from './data.js';
import type { CountryNetwork } from './networks.js';
import { networkAt } from './packed.js';
import { codeInTable, findInTable } from './table.js';

export interface CountrySources {
  /** Undefined where no country data is loaded. */
  readonly data: CountryData | undefined;
  readonly corrections: CountryData | undefined;
}

/**
 * Where an address is: what a correction says; else the data; else `private` in special-purpose space (RFC 6890); else
 * `unknown`. The data comes before `private`, so that it can give a country to networks inside private space. Undefined
 * where no data is loaded and no correction holds the address.
 */
export function originOf({ data, corrections }: CountrySources, address: Address): Origin | undefined {
  const corrected = corrections && found(corrections, address, 'correction');
  if (corrected) return corrected;
  if (data === undefined) return undefined;
  return found(data, address, 'data') ?? (isSpecialPurpose(address) ? PRIVATE : UNKNOWN);
}

/** The network of the data that has the address; undefined for none. */
export function networkTelling({ data, corrections }: CountrySources, address: Address): CountryNetwork | undefined {
  for (const source of [corrections, data]) {
    const side = source && sideOf(source, address);
    const at = side ? findInTable(side.table, address) : -1;
    if (side && at >= 0) return networkAt(side.networks, side.owner[at] as number);
  }
  return undefined;
}

const PRIVATE: Origin = { country: 'private', by: 'neither' };
const UNKNOWN: Origin = { country: 'unknown', by: 'neither' };

function found(source: CountryData, address: Address, by: 'correction' | 'data'): Origin | undefined {
  const { table, origins } = sideOf(source, address);
  const at = findInTable(table, address);
  return at < 0 ? undefined : origins[by][codeInTable(table, at)];
}

const sideOf = ({ four, six }: CountryData, address: Address): CountryIntervals => (address.family === 4 ? four : six);
