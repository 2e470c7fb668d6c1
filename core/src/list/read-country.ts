import { isCountryCode } from '../country/index.js';
import type { Place, Sink } from '../text/index.js';
import { suggestCountry } from './suggest-country.js';

/** The country given for an address: a code, `private` or `unknown`; undefined when missing or faulty. */
export function readCountry(sink: Sink, place: Place | undefined): string | undefined {
  const text = place && sink.word(place)?.text;
  if (place === undefined || text === undefined || text === 'private' || text === 'unknown') return text;
  const code = text.toUpperCase();
  if (isCountryCode(code)) return code;
  sink.add(place, { code: 'bad-country', text, suggestion: suggestCountry(text) });
  return undefined;
}
