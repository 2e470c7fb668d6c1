import { formatRange } from '../address/index.js';
import { tellCountry } from '../country/index.js';
import type { Corrections } from './corrections.js';

const MOST_TOLD = 4;

/** Which networks are corrected to where, in one sentence. */
export function correctionsSentence({ networks }: Corrections): string {
  if (networks.length === 0) return 'Corrects nothing.';
  const told = networks
    .slice(0, MOST_TOLD)
    .map(({ range, country }) => `${formatRange(range)} is in ${tellCountry(country)}`);
  const more = networks.length > MOST_TOLD ? [`and ${networks.length - MOST_TOLD} more`] : [];
  return `${[...told, ...more].join(', ')}.`;
}
