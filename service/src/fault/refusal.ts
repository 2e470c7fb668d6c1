import type { IssueReport } from '@jade-fence/core/issue';

/** Why something is refused. What answers calls says it in its own way, such as a status of HTTP. */
export const REASONS = [
  ...(['malformed', 'invalid', 'unsupported', 'too-large', 'too-slow'] as const),
  ...(['not-signed-in', 'forbidden', 'too-often'] as const),
  ...(['missing', 'conflict', 'stale', 'state-needed', 'method-unknown'] as const),
  ...(['away', 'full', 'broken'] as const),
] as const;
export type Reason = (typeof REASONS)[number];

/** A refusal that the caller can understand and mend. */
export class Refusal extends Error {
  readonly reason: Reason;
  /** Stable, for programs. */
  readonly code: string;
  readonly detail: string;
  readonly remedy: string | undefined;
  readonly issues: readonly (IssueReport | InputIssue)[] | undefined;
  /** After so many seconds it can be tried again; undefined: nothing is known of that. */
  readonly retryAfter: number | undefined;

  constructor(reason: Reason, code: string, detail: string, more: RefusalMore = {}) {
    super(detail);
    this.reason = reason;
    this.code = code;
    this.detail = detail;
    this.remedy = more.remedy;
    this.issues = more.issues;
    this.retryAfter = more.retryAfter;
  }
}

export interface RefusalMore {
  readonly remedy?: string | undefined;
  readonly issues?: readonly (IssueReport | InputIssue)[] | undefined;
  readonly retryAfter?: number | undefined;
}

/** What a refusal says, as plain data that can be stored. */
export type RefusalFacts = Pick<Refusal, 'reason' | 'code' | 'detail'> & Omit<RefusalMore, 'retryAfter'>;

/** What is wrong with one value of a body or query. */
export interface InputIssue {
  readonly path: string;
  readonly what: string;
}

/** What a refusal says, without what it does not have. */
export function refusalFacts({ reason, code, detail, remedy, issues }: Refusal): RefusalFacts {
  return { reason, code, detail, ...(remedy && { remedy }), ...(issues && { issues }) };
}
