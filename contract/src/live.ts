import type { PageQuery } from './page.js';
import type { RequestBody } from './request.js';

/** How often a rule of the rules in force did something, since the service started. */
export interface RuleCount {
  readonly policy: string | null;
  readonly rule: string | null;
  readonly verdict: string;
  readonly role: 'decided' | 'observed';
  readonly count: number;
}

/** What one service decided since it started. */
export interface LiveBody {
  /** The revision in force there; null where none is. */
  readonly revision: number | null;
  readonly counts: readonly RuleCount[];
  /** Decisions that were to be recorded, and were too many. */
  readonly unrecorded: number;
}

/** A live decision that was recorded. */
export interface RecordedBody {
  readonly decision: number;
  readonly at: string;
  readonly revision: number;
  readonly policy: string | null;
  readonly rule: string | null;
  readonly verdict: string;
  readonly effect: string;
  readonly record: string;
  /** The reference that the client was shown, if it was stopped. */
  readonly reference: string | null;
  readonly request: RequestBody;
  readonly client: string | null;
  readonly country: string | null;
  /** The countries of its destination, parted by blanks; null where they were not known. */
  readonly destinationCountry: string | null;
}

export interface DecisionsPage {
  readonly decisions: readonly RecordedBody[];
  readonly next: number | null;
}

/** Which recorded decisions, the newest first. */
export interface DecisionsQuery extends PageQuery {
  readonly policy?: string;
  readonly rule?: string;
  readonly verdict?: string;
  readonly record?: string;
  /** The reference that a stopped client was shown. */
  readonly reference?: string;
}

export interface PasscodesPage {
  readonly passcodes: readonly string[];
  readonly next: string | null;
}
