export { checkIncludes, checkReference, type Lists, withIncluded } from './link.js';
export {
  type AddressList,
  type CountryList,
  type DomainList,
  type Entry,
  LIST_SORTS,
  type List,
  type ListSort,
  type Reference,
} from './list.js';
export { addressFault, readList } from './read.js';
export { compileLists, isAlive, type ListSets } from './sets.js';
export { suggestCountry } from './suggest-country.js';
