import type { Address } from '../../address/index.js';
import type { Policy } from '../../policy/index.js';
import type { Request } from '../../request/index.js';
import { addressesFor, type Resolutions } from '../../resolution/index.js';

/**
 * The addresses that a request goes to, as a policy sees them: the one that it shows; else, where the policy resolves
 * destinations, all that its host has. Undefined, which is unseen, where there is none.
 */
export function destinationsOf(
  { destination, host }: Pick<Request, 'destination' | 'host'>,
  { destinations }: Pick<Policy, 'destinations'>,
  resolutions: Resolutions,
): readonly Address[] | undefined {
  if (destination !== undefined) return [destination];
  if (!destinations.resolve || host === undefined) return undefined;
  const addresses = addressesFor(resolutions, host);
  return addresses === undefined || addresses.length === 0 ? undefined : addresses;
}

/** The countries of some addresses, in order, each once; undefined where one of them is unseen. */
export function countriesOf(
  addresses: readonly Address[],
  countryOf: (address: Address) => string | undefined,
): readonly string[] | undefined {
  const found = new Set<string>();
  for (const address of addresses) {
    const country = countryOf(address);
    if (country === undefined) return undefined;
    found.add(country);
  }
  return [...found].sort();
}

/** Several countries of one destination as one text, which has no other use of blanks. */
export const countriesText = (countries: readonly string[]): string => countries.join(' ');

/** The countries of such a text. */
export const countriesIn = (text: string): readonly string[] => text.split(' ');
