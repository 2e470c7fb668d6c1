export type { Category } from './category.js';
export { categoryConditions } from './conditions.js';
export { readCategory } from './read.js';
export { categorySentence } from './sentence.js';
