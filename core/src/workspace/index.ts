export { type DescribedObject, describeObjects, objectSentence, workspaceObjects } from './describe.js';
export { type EditedReading, editedReading } from './edited-reading.js';
export { type LineFault, type ListFile, readListFile } from './list-file.js';
export { type ObjectUser, userCounts, usersOfObject } from './object-users.js';
export { listsReached } from './reached.js';
export { linkFiles, type ReadFiles, type ReadWorkspace, readFiles, readWorkspace } from './read.js';
export { type ListUser, usersOfList } from './uses.js';
export type { SourceDocument, SourceFile, Workspace, WorkspaceObject } from './workspace.js';
