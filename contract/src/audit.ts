import type { PageQuery } from './page.js';

/** What looking at the whole chain of the audit found. */
export interface AuditVerdictBody {
  readonly entries: number;
  /** The hash of the newest entry; a copy of it elsewhere proves later that the past is unchanged. */
  readonly head: string;
  /** The first entry that does not follow from the one before; null where all do. */
  readonly brokenAt: number | null;
  /** Whether entries are missing at the end. */
  readonly isCut: boolean;
  /** Whether the head that was asked about is among the entries; null where none was. */
  readonly hasHead: boolean | null;
}

export interface AuditBody {
  readonly id: number;
  readonly at: string;
  readonly actor: string | null;
  readonly action: string;
  readonly kind: string | null;
  readonly name: string | null;
  readonly detail: Readonly<Record<string, unknown>>;
}

export interface AuditPage {
  readonly entries: readonly AuditBody[];
  readonly next: number | null;
}

/** Which entries of the audit, the oldest first. */
export interface AuditQuery extends PageQuery {
  readonly actor?: string;
  readonly action?: string;
  readonly kind?: string;
  readonly name?: string;
  readonly from?: string;
  readonly to?: string;
}
