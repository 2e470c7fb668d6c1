export { type Asked, tryAsked } from './asked.js';
export type { ConcerningRule } from './concerning.js';
export {
  type LookedUp,
  type LookedUpAddress,
  type LookedUpAnswer,
  type LookedUpCountry,
  type LookedUpEntry,
  lookUp,
} from './lookup.js';
