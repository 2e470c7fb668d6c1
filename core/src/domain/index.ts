export { type HostFault, type HostResult, parseHost, tryHost } from './host.js';
export {
  type DomainPattern,
  type DomainReach,
  formatDomainPattern,
  patternMatches,
  tryDomainPattern,
} from './pattern.js';
export {
  changedDomainSet,
  type DomainChanges,
  type DomainSet,
  domainPatterns,
  domainSet,
  domainSetContains,
  slotOfName,
} from './set.js';
