export { normalPath, splitTarget } from './path.js';
export {
  formatPathPattern,
  isPathFault,
  type PathFault,
  type PathPattern,
  pathMatches,
  tryPathPattern,
} from './pattern.js';
export { cookieValue, queryValues } from './query.js';
export {
  formatUrlPattern,
  isUrlFault,
  tryUrlPattern,
  type UrlFault,
  type UrlPattern,
  type UrlSeen,
  urlMatches,
} from './url-pattern.js';
