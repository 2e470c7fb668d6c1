import { countryCodes, countryName } from '../country/index.js';
import { suggest } from '../issue/index.js';

/** The code of the country whose English name the text is, or nearly is. */
export function suggestCountry(text: string): string | undefined {
  if (text.length < 4) return text.toUpperCase() === 'UK' ? 'GB' : undefined;
  const codes = new Map(countryCodes().map((code) => [(countryName(code) ?? code).toLowerCase(), code]));
  const name = suggest(text, [...codes.keys()]);
  return name === undefined ? undefined : codes.get(name);
}
