import { formatAddress } from '../address/index.js';
import { countryPhrase } from '../country/index.js';
import type { Probe } from './probe.js';

/** The probe in one sentence. */
export function probeSentence({ client, country, user, groups, agent, headers }: Probe): string {
  const parts = [
    user === undefined ? 'A client' : user === '' ? 'An anonymous client' : `The user ${user}`,
    ...(groups === undefined || groups.length === 0 ? [] : [`of ${groups.join(' and ')}`]),
    ...(client === undefined ? [] : [`at ${formatAddress(client)}`]),
    ...(country === undefined ? [] : [`taken for ${countryPhrase(country)}`]),
    ...(agent === undefined ? [] : [agent === '' ? 'without a user agent' : `with ${agent}`]),
    ...(headers === undefined || headers.size === 0 ? [] : [`sending ${[...headers.keys()].join(', ')}`]),
  ];
  return `${parts.join(' ')}.`;
}
