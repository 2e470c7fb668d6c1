import type { CheckedGrid } from '@jade-fence/core/checking';
import type { Difference } from '@jade-fence/core/difference';
import type { Finding } from '@jade-fence/core/review';
import type { DocumentKind } from '@jade-fence/core/text';
import type { ChangeBody } from './workspace.js';

/** What two states of the workspace do not have alike. */
export interface DifferenceBody {
  /** `draft`, `revision 3`, or `nothing`. */
  readonly from: string;
  readonly to: string;
  readonly changes: readonly (Difference & {
    /** The lines that differ, as a unified diff; null when there are too many, or they were not requested. */
    readonly text: string | null;
    readonly by: string | null;
    readonly at: string | null;
  })[];
  /** What is different of the country data, in a sentence; null where nothing is. */
  readonly countryData: string | null;
}

/** What is known of a draft before it is published. */
export interface Readiness {
  /** Goes up with every change. */
  readonly draft: number;
  /** The revision in force; null where nothing was published yet. */
  readonly published: number | null;
  /** Whether anything is different from what is published. */
  readonly changed: boolean;
  /** What the review finds that it does not find in what is published. */
  readonly newFindings: readonly Finding[];
  readonly checks: readonly CheckedGrid[];
}

/** The draft, and whether it can be published. */
export type DraftBody = Readiness & {
  /** Proposals that wait for somebody to approve them. */
  readonly proposals: readonly ProposalBody[];
};

export interface RevisionBody {
  readonly revision: number;
  readonly message: string;
  readonly author: string;
  readonly approvedBy: string | null;
  readonly publishedAt: string;
  readonly objects: number;
}

export interface ProposalBody {
  readonly proposal: number;
  readonly message: string;
  readonly author: string;
  readonly draft: number;
  /** The objects of the draft that it is of; null: all of it. */
  readonly objects: readonly { readonly kind: string; readonly name: string }[] | null;
  /** `stale`: the draft, or the objects that it is of, were changed since. */
  readonly state: 'open' | 'stale' | 'published' | 'withdrawn';
  readonly proposedAt: string;
}

/** Revisions, the newest first. */
export interface RevisionsPage {
  readonly revisions: readonly RevisionBody[];
  readonly next: number | null;
}

/** Proposals, the newest first. */
export interface ProposalsPage {
  readonly proposals: readonly ProposalBody[];
  readonly next: number | null;
}

/** Two states, as `StateQuery` names them; without them, what is published and the draft. */
export interface DifferenceQuery {
  readonly from?: string;
  readonly to?: string;
  /** Whether to include the lines that differ. */
  readonly text?: boolean;
}

/** What is to be published, and why. */
export interface Proposing {
  readonly message: string;
  /** These objects of the draft alone; all else stays as it is published. */
  readonly only?: readonly { readonly kind: DocumentKind; readonly name: string }[];
}

export interface Approval {
  /** Publish in spite of new warnings of the review. */
  readonly acceptWarnings?: boolean;
}

/** `draft` is the number of the draft; the call is refused when the draft has another. */
export type Publishing = Proposing & Approval & { readonly draft?: number };

export interface Discarding {
  /** Only this object; without it, all of the draft. */
  readonly kind?: DocumentKind;
  readonly name?: string;
  readonly draft?: number;
}

export type Restoring = Discarding & { readonly revision: number };

export interface DraftChanged {
  readonly changes: readonly ChangeBody[];
}
