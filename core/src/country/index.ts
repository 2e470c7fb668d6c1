export { countryCodes, countryName, countryPhrase, isCountryCode } from './code.js';
export { type CountryCoverage, type Coverage, coverageOf } from './coverage.js';
export {
  type CountryData,
  type CountryIntervals,
  compileCountryData,
  countryDataOf,
  type FlatCountryData,
  flatCountryData,
  type Origin,
} from './data.js';
export { type CountryNetwork, type CountryRowFault, countryRowFaultText } from './networks.js';
export { type CountrySources, networkTelling, originOf } from './origin.js';
export { readCountryCsv } from './read/csv.js';
export { type CountryFile, readCountryFile } from './read/read.js';
export { codeInTable } from './table.js';
