export { type Difference, differences, textDifference, type WrittenWorkspace } from './difference.js';
