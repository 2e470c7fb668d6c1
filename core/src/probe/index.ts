export type { Probe } from './probe.js';
export { readProbe } from './read.js';
export { probeSentence } from './sentence.js';
