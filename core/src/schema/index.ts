export { workspaceSchema } from './schema.js';
