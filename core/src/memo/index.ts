export { BoundedMap } from './bounded-map.js';
