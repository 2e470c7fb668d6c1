export { type Circle, findCircles } from './circle.js';
export { addressFault, textFault, urlFault } from './fault.js';
export { checkIncludes, checkReference, type Lists, withIncluded } from './link.js';
export {
  type AddressList,
  type AgentList,
  type CountryList,
  type DomainList,
  type Entry,
  LIST_SORTS,
  type List,
  type ListSort,
  type Reference,
  type UrlList,
  type UserList,
} from './list.js';
export { readList } from './read.js';
export { readCountry } from './read-country.js';
export { aliveValues, compileLists, isAlive, type ListSets } from './sets.js';
export { suggestCountry } from './suggest-country.js';
export { tryUser, userForm } from './user.js';
