export type { Cell, Check, Destination } from './check.js';
export { readCheck } from './read.js';
export { checkCheck } from './references.js';
export { checkSentence } from './sentence.js';
