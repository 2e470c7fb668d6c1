export { reportHtml } from './html.js';
export { reportMarkdown } from './markdown.js';
export { type ReplayedScope, scopeNotes } from './notes.js';
export type { PageFacts } from './outline.js';
