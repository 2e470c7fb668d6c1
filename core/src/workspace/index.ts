export { type ReadWorkspace, readWorkspace } from './read.js';
export type { SourceDocument, SourceFile, Workspace } from './workspace.js';
