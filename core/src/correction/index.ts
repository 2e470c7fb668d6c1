export type { CorrectedNetwork, Corrections } from './corrections.js';
export { checkCorrections, readCorrections } from './read.js';
export { correctionsSentence } from './sentence.js';
