export { type HostFault, type HostResult, parseHost, tryHost } from './host.js';
export {
  type DomainPattern,
  type DomainReach,
  formatDomainPattern,
  patternMatches,
  tryDomainPattern,
} from './pattern.js';
export { type DomainSet, domainSet, domainSetContains } from './set.js';
