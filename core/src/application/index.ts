export { type Application, allNeeds } from './application.js';
export { checkNeeds } from './needs.js';
export { readApplication } from './read.js';
export { applicationSentence } from './sentence.js';
