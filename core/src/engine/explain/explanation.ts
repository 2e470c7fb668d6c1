import type { FieldName } from '../../condition/index.js';
import type { ActionType, Record, Stance, Verdict } from '../../policy/index.js';
import type { ClientHow } from '../../request/index.js';
import type { RuleRole, Unseen } from '../decision.js';

/** The whole story of one request under one policy: plain data, for people and programs. */
export interface Explanation {
  readonly policy: string;
  readonly stance: Stance;
  readonly verdict: Verdict;
  readonly effect: Verdict;
  /** The rule that decided, or null where it was the policy's default. */
  readonly decidedBy: string | null;
  /** Tags that rules above the deciding one have put on the request. */
  readonly tags: readonly string[];
  readonly record: Record;
  /** The answer in a sentence or two: the verdict, the rule, and the reason. */
  readonly summary: string;
  /** Which rules above the deciding one could not be judged, and for want of what; null where all could. */
  readonly unjudged: string | null;
  readonly client: ExplainedClient;
  readonly country: ExplainedCountry;
  /** The addresses that the request goes to, each with its country; empty where they are not known. */
  readonly destinations: readonly ExplainedDestination[];
  /** Where those addresses come from; null where the request shows its destination, or nothing is known of it. */
  readonly resolved: ExplainedAnswer | null;
  /** Every rule, in order. */
  readonly rules: readonly ExplainedRule[];
}

export interface ExplainedClient {
  readonly address: string | null;
  readonly peer: string | null;
  /** `peer`, or the header that named the client. */
  readonly source: string;
  readonly how: ClientHow;
  readonly text: string;
}

export interface ExplainedCountry {
  /** A code, `private`, `unknown`, or null when no data is loaded. */
  readonly country: string | null;
  /** The network of a correction or of the country data that says so. */
  readonly network: string | null;
  readonly text: string;
}

export interface ExplainedDestination extends ExplainedCountry {
  readonly address: string;
}

/** What the resolutions say of the request's host. */
export interface ExplainedAnswer {
  readonly host: string;
  /** When it was seen; RFC 3339. */
  readonly seen: string;
  readonly text: string;
}

/** A rule's limit, and the count of one request under it. Spans are seconds. */
export interface ExplainedLimit {
  /** The fields of the key, as the rule writes them, and their values here; null when they are unseen. */
  readonly per: readonly string[];
  readonly key: readonly string[] | null;
  readonly moreThan: number;
  readonly counts: 'requests' | 'bytes';
  readonly within: number;
  readonly hold: number;
  /** The count under the key within the span, this request included; null when unknown. */
  readonly sum: number | null;
  /** Until when the key stays over; null where it does not, or that is not known. */
  readonly heldUntil: string | null;
  /** All of that in words; null where the key is not seen. */
  readonly text: string | null;
}

export interface ExplainedRule {
  readonly rule: string;
  readonly sentence: string;
  readonly stance: Stance;
  readonly then: ActionType;
  readonly role: RuleRole;
  /** Why the rule has this role, in a sentence. */
  readonly text: string;
  readonly unseen: readonly Unseen[];
  readonly when: readonly ExplainedCondition[];
  readonly unless: readonly ExplainedCondition[];
  /** The request's count under the rule's limit; null for a rule without one. */
  readonly limit: ExplainedLimit | null;
  /** The least that would have to change for this rule to act on the request; empty where it does. */
  readonly changes: readonly NeededChange[];
  /** The changes in a sentence; null where there are none. */
  readonly toAct: string | null;
}

/**
 * One thing that keeps a rule from acting on the request.
 * - `field`: the request's field would have to match the rule's test.
 * - `show`: the request would have to show the field.
 * - `exception`: the exception that holds, of these fields, would have to go.
 * - `limit`: there would have to be more traffic of the same key.
 * - `above`: the rule above that decides would have to go, or move below.
 * - `stance`: the rule would have to be enforced.
 */
export type NeededChange =
  | {
      readonly type: 'field';
      readonly field: FieldName;
      readonly seen: string | null;
      readonly wanted: readonly string[];
    }
  | { readonly type: 'show'; readonly field: FieldName }
  | { readonly type: 'exception'; readonly fields: readonly FieldName[] }
  | { readonly type: 'limit' }
  | { readonly type: 'above'; readonly rule: string }
  | { readonly type: 'stance'; readonly stance: Stance };

export type Holds = 'match' | 'no match' | 'unseen';

export interface ExplainedCondition {
  readonly holds: Holds;
  readonly tests: readonly ExplainedTest[];
}

export interface ExplainedTest {
  readonly field: FieldName;
  readonly holds: Holds;
  /** The rule's values, such as `list:curators` or `not: PT, ES`. */
  readonly wanted: readonly string[];
  /** The value that the rule saw, or null where the request does not carry it. */
  readonly seen: string | null;
  /** The reason: the value or list entry that matched, or why nothing did. */
  readonly because: string;
}
