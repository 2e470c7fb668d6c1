import type { DocumentKind } from '@jade-fence/core/text';
import type { GivenDocument } from '../model/replay.js';

/** One stored document of the workspace, in its current version or in one that a replay ran. */
export interface StoredDocument {
  readonly versionId: number;
  readonly kind: DocumentKind;
  readonly name: string;
  readonly number: number;
  readonly file: string;
  /** Null for what was stored before people had names. */
  readonly author: string | null;
  readonly changedAt: Date;
  /** Whether files gave this version, and it was not edited here. */
  readonly byFile: boolean;
}

/** With its text, which of a long list is large: it is fetched where it is needed. */
export type WrittenDocument = StoredDocument & { readonly text: string };

/** A document that is given as it is written, or stored in a version that is made of parts. */
export type ReadableDocument = GivenDocument | StoredDocument;

/** Equal for documents of one kind and name, which are versions of one object. */
export const keyOf = ({ kind, name }: { readonly kind: string; readonly name: string }): string => `${kind} ${name}`;
