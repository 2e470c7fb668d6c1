import { type Address, isSpecialPurpose } from '../address/index.js';
import { type CountryData, countryNetworkOf } from './data.js';
import type { CountryNetwork } from './networks.js';

/** What is known of an address's country: a code with the network that says so, `private`, or `unknown`. */
export type Origin =
  | { readonly country: string; readonly network: CountryNetwork }
  | { readonly country: 'private' | 'unknown'; readonly network?: undefined };

/**
 * Where an address is: what the data says; else `private` in special-purpose space (RFC 6890); else `unknown`.
 * The data comes first, so that it can give a country to networks inside private space.
 */
export function originOf(data: CountryData, address: Address): Origin {
  const network = countryNetworkOf(data, address);
  if (network) return { country: network.code, network };
  return { country: isSpecialPurpose(address) ? 'private' : 'unknown' };
}
