export { parseUrl } from './parse.js';
export { normalPath, splitTarget } from './path.js';
export { DEFAULT_PATHS, type PathSettings, pathUnder } from './path-settings.js';
export {
  formatPathPattern,
  isPathFault,
  type PathFault,
  type PathPattern,
  pathMatches,
  pathPatternUnder,
  tryPathPattern,
} from './pattern.js';
export { cookieValues, normalQuery, queryValues } from './query.js';
export {
  formatUrlPattern,
  isUrlFault,
  tryUrlPattern,
  type UrlFault,
  type UrlPattern,
  type UrlSeen,
  urlMatches,
  urlPatternUnder,
} from './url-pattern.js';
