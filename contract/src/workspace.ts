import type { IssueReport } from '@jade-fence/core/issue';
import type { Finding } from '@jade-fence/core/review';
import type { DescribedObject } from '@jade-fence/core/workspace';
import type { ListSummary } from './list.js';
import type { NoticeBody } from './notice.js';
import type { PolicySummary, RuleBody } from './policy.js';

export interface WorkspaceBody {
  readonly policies: readonly (PolicySummary & LastChange)[];
  readonly lists: readonly (ListSummary & LastChange)[];
  /** Categories, applications, schedules, notices, corrections, probes and checks. */
  readonly objects: readonly (DescribedObject & LastChange & { readonly users: number })[];
  readonly countryData: { readonly source: string; readonly date: string; readonly networks: number } | null;
}

/** When an object of the draft was changed last, and by whom. */
export interface LastChange {
  readonly changedAt: string;
  readonly changedBy: string | null;
}

/** What files would say in the draft. */
export interface ReadingBody {
  readonly issues: readonly IssueReport[];
  readonly policies: readonly (PolicySummary & { readonly rules: readonly RuleBody[] })[];
  readonly objects: readonly DescribedObject[];
  /** Notices as a stopped client sees them, of a made-up request. */
  readonly notices: readonly NoticeBody[];
  /** What a review would find about those policies; empty where there are issues. */
  readonly findings: readonly Finding[];
}

export interface ChangesBody {
  readonly dryRun: boolean;
  readonly changes: readonly ChangeBody[];
}

export interface ChangeBody {
  readonly kind: string;
  readonly name: string;
  readonly change: 'added' | 'changed' | 'removed' | 'unchanged';
}

/** What files did; and what was edited here before, and is undone by that. */
export type AppliedBody = ChangesBody & { readonly overwritten: readonly OverwrittenBody[] };

export interface OverwrittenBody {
  readonly kind: string;
  readonly name: string;
  /** Who edited it last, and when. */
  readonly by: string | null;
  readonly at: string;
  /** What is lost, a sentence each. */
  readonly lost: readonly string[];
}

export interface WorkspaceFile {
  readonly name: string;
  readonly text: string;
}

/** Files to apply. */
export interface ApplyOrder {
  readonly files: readonly WorkspaceFile[];
  /** Remove what the files do not hold. */
  readonly exact?: boolean;
  /** Check, and change nothing. */
  readonly dryRun?: boolean;
  /** The number of the draft that the files were made for; another is refused. */
  readonly draft?: number;
  /** The versions that the files were made from, by kind and name as `list edge-proxies`. */
  readonly base?: Readonly<Record<string, number>>;
  /** Undo what was edited here since files were last applied, too. */
  readonly overwrite?: boolean;
}
