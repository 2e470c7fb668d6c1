export { normalPath, splitTarget } from './path.js';
export {
  formatPathPattern,
  isPathFault,
  type PathFault,
  type PathPattern,
  pathMatches,
  tryPathPattern,
} from './pattern.js';
