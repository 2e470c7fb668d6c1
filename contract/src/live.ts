import type { PageQuery } from './page.js';
import type { RuleBody } from './policy.js';
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

/** How a rule of the draft was used by live decisions. Times are RFC 3339, true to some seconds. */
export interface RuleUsage extends Pick<RuleBody, 'stance' | 'then'> {
  readonly policy: string;
  /** Its name, or `default`. */
  readonly rule: string;
  /** How many requests it decided in the days that are looked at, and how many it observed. */
  readonly decided: number;
  readonly observed: number;
  /** When it did so last; null: not in all the days that are kept. */
  readonly lastDecided: string | null;
  readonly lastObserved: string | null;
}

export interface UsageBody {
  readonly days: number;
  /** The first day that decisions were counted on (YYYY-MM-DD, UTC); null where none was made. */
  readonly countedSince: string | null;
  /** In the order of the policies and their rules. */
  readonly rules: readonly RuleUsage[];
}

export interface UsageQuery {
  readonly policy?: string;
  /** Days back from now, of UTC. Default: 30. */
  readonly days?: number;
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
