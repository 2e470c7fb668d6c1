import type { Lists } from '../list/index.js';
import type { Policy } from '../policy/index.js';

/** All that an administrator has written, read and linked: what a replay runs and a publish publishes. */
export interface Workspace {
  readonly policies: ReadonlyMap<string, Policy>;
  readonly lists: Lists;
}

/** A file of documents as it was given. */
export interface SourceFile {
  readonly name: string;
  readonly text: string;
}

/** One document of a source file: what the workspace stores under its kind and name. */
export interface SourceDocument {
  readonly kind: 'policy' | 'list';
  readonly name: string;
  readonly file: string;
  /** The document's own text, with its comments, without the `---` around it. */
  readonly text: string;
}
