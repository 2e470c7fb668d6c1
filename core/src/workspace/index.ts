export { linkFiles, type ReadFiles, type ReadWorkspace, readFiles, readWorkspace } from './read.js';
export type { SourceDocument, SourceFile, Workspace } from './workspace.js';
