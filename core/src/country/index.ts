export { countryCodes, countryName, isCountryCode } from './code.js';
export { readCountryCsv } from './csv.js';
export { type CountryData, compileCountryData, countryNetworkOf } from './data.js';
export { type CountryNetwork, type CountryRowFault, tellCountryRowFault } from './networks.js';
export { type Origin, originOf } from './origin.js';
