export { type Difference, differences, textDifference, type WrittenWorkspace } from './difference.js';
export { lostWords } from './lost.js';
