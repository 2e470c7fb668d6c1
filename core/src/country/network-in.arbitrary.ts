import { expect } from 'vitest';
import type { Address } from '../address/index.js';
import { type CountryData, type CountryNetwork, networkTelling, originOf } from './index.js';

/** What the data alone says of an address; the code that goes with it is that of the network. */
export function networkIn(data: CountryData, address: Address): CountryNetwork | undefined {
  const sources = { data, corrections: undefined };
  const network = networkTelling(sources, address);
  if (network) expect(originOf(sources, address)).toEqual({ country: network.code, by: 'data' });
  return network;
}
