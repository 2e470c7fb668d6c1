export { type Circle, findCircles } from './circle.js';
export { type EditedEntries, editEntriesOf, type ListEdit, mergedEdit } from './edit.js';
export { type EditedList, editList, type NewEntry } from './edit-text.js';
export { endingEntries, isAlive } from './expiry.js';
export { addressFault, hostFault, textFault, urlFault } from './fault.js';
export { FIRST_LINE, listFromLines } from './from-lines.js';
export { checkIncludes, checkReference, type Lists, withIncluded } from './link.js';
export {
  type AddressList,
  type AgentList,
  type CountryList,
  type DomainList,
  type Edited,
  type Entry,
  LIST_SORTS,
  type List,
  type ListSort,
  type Reference,
  type UrlList,
  type UserList,
} from './list.js';
export { addressesCovered, type Met, type Overlap, overlapOf } from './overlap.js';
export { readList } from './read.js';
export { readCountry } from './read-country.js';
export { aliveValues, compileLists, type ListSets } from './sets.js';
export { suggestCountry } from './suggest-country.js';
export { tryUser, userForm } from './user.js';
