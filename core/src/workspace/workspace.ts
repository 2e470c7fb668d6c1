import type { Application } from '../application/index.js';
import type { Category } from '../category/index.js';
import type { Check } from '../check/index.js';
import type { Corrections } from '../correction/index.js';
import type { List } from '../list/index.js';
import type { Notice } from '../notice/index.js';
import type { Policy } from '../policy/index.js';
import type { Probe } from '../probe/index.js';
import type { Schedule } from '../schedule/index.js';
import type { DocumentKind } from '../text/index.js';

/** All that an administrator has written, read and linked, by name: what a replay runs and a publish publishes. */
export interface Workspace {
  readonly policies: ReadonlyMap<string, Policy>;
  readonly lists: ReadonlyMap<string, List>;
  readonly categories: ReadonlyMap<string, Category>;
  readonly applications: ReadonlyMap<string, Application>;
  readonly schedules: ReadonlyMap<string, Schedule>;
  readonly notices: ReadonlyMap<string, Notice>;
  readonly corrections: ReadonlyMap<string, Corrections>;
  readonly probes: ReadonlyMap<string, Probe>;
  readonly checks: ReadonlyMap<string, Check>;
}

/** Anything that a document defines. */
export type WorkspaceObject = Policy | List | Category | Application | Schedule | Notice | Corrections | Probe | Check;

/** A file of documents as it was given. */
export interface SourceFile {
  readonly name: string;
  readonly text: string;
}

/** One document of a source file: what the workspace stores under its kind and name. */
export interface SourceDocument {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly file: string;
  /** The document's own text, with its comments, without the `---` around it. */
  readonly text: string;
}
