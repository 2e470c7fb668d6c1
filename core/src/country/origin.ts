import { type Address, isSpecialPurpose } from '../address/index.js';
import { type CountryData, countryNetworkOf } from './data.js';
import type { CountryNetwork } from './networks.js';

/** What is known of an address's country: a code, `private` or `unknown`, and what says so. */
export interface Origin {
  readonly country: string;
  /** A correction of the administrator's, the country data, or what is left where neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
  /** The network that says so. */
  readonly network: CountryNetwork | undefined;
}

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
  const corrected = corrections && countryNetworkOf(corrections, address);
  if (corrected) return { country: corrected.code, by: 'correction', network: corrected };
  if (data === undefined) return undefined;
  const network = countryNetworkOf(data, address);
  if (network) return { country: network.code, by: 'data', network };
  return { country: isSpecialPurpose(address) ? 'private' : 'unknown', by: 'neither', network: undefined };
}
