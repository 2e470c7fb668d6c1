import type { DocumentKind } from '@jade-fence/core/text';
import type { ObjectUser } from '@jade-fence/core/workspace';

/** What an object's document says, and since when. */
export interface StoredBody {
  readonly text: string;
  readonly version: number;
  readonly changedBy: string | null;
  readonly changedAt: string;
}

/** One object of the draft. */
export interface ObjectBody extends StoredBody {
  readonly kind: DocumentKind;
  readonly name: string;
  /** The file that it was applied from. */
  readonly file: string;
}

/** A state that an object had. */
export interface VersionBody {
  readonly version: number;
  readonly changedBy: string | null;
  readonly changedAt: string;
  /** The revisions that have it. */
  readonly revisions: readonly number[];
}

/** Who names an object. */
export interface UsersBody {
  readonly users: readonly ObjectUser[];
}

/** Objects of the draft by kind and name; keys are as `list/edge-proxies`. */
export interface ObjectsPage {
  readonly objects: readonly ObjectBody[];
  readonly next: string | null;
}

/** The states that an object had, the newest first. */
export interface VersionsPage {
  readonly versions: readonly VersionBody[];
  readonly next: number | null;
}

/** What an object of the workspace is to say. */
export interface ObjectText {
  readonly text: string;
}
