import { countryCodes, countryName } from '@jade-fence/core/country';
import { expect, it } from 'vitest';
import { COUNTRIES, nameOfCountry } from './country.js';

it('are all that the rules know, under the same names', () => {
  expect(COUNTRIES).toEqual(countryCodes());
  expect(COUNTRIES.map(nameOfCountry)).toEqual(countryCodes().map(countryName));
});
