import { formatRange } from '../address/index.js';
import { countryPhrase } from '../country/index.js';
import type { Corrections } from './corrections.js';

const MOST_LISTED = 4;

/** Which networks are corrected to where, in one sentence. */
export function correctionsSentence({ networks }: Corrections): string {
  if (networks.length === 0) return 'Corrects nothing.';
  const shown = networks
    .slice(0, MOST_LISTED)
    .map(({ range, country }) => `${formatRange(range)} is in ${countryPhrase(country)}`);
  const more = networks.length > MOST_LISTED ? [`and ${networks.length - MOST_LISTED} more`] : [];
  return `${[...shown, ...more].join(', ')}.`;
}
