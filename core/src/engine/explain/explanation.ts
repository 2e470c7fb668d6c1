import type { Field, Stance, Verdict } from '../../policy/index.js';
import type { ClientHow } from '../../request/index.js';
import type { Role } from '../decision.js';

/** The whole story of one request under one policy: plain data, for people and programs. */
export interface Explanation {
  readonly policy: string;
  readonly stance: Stance;
  readonly verdict: Verdict;
  readonly effect: Verdict;
  /** The rule that decided, or null where it was the policy's default. */
  readonly decidedBy: string | null;
  /** The answer in a sentence or two: what becomes of the request, by which rule, because of what. */
  readonly summary: string;
  readonly client: ExplainedClient;
  readonly country: ExplainedCountry;
  /** Every rule, in order. */
  readonly rules: readonly ExplainedRule[];
}

export interface ExplainedClient {
  readonly address: string | null;
  readonly peer: string | null;
  /** `peer`, or the header that told the client. */
  readonly source: string;
  readonly how: ClientHow;
  readonly told: string;
}

export interface ExplainedCountry {
  /** A code, `private`, `unknown`, or null where it cannot be told. */
  readonly country: string | null;
  /** The network of the country data that says so. */
  readonly network: string | null;
  readonly told: string;
}

export interface ExplainedRule {
  readonly rule: string;
  readonly sentence: string;
  readonly stance: Stance;
  readonly then: Verdict;
  readonly role: Role;
  /** Why the rule has this role, in a sentence. */
  readonly told: string;
  readonly unseen: readonly Field[];
  readonly when: readonly ExplainedCondition[];
  readonly unless: readonly ExplainedCondition[];
}

export type Holds = 'match' | 'no match' | 'unseen';

export interface ExplainedCondition {
  readonly holds: Holds;
  readonly tests: readonly ExplainedTest[];
}

export interface ExplainedTest {
  readonly field: Field;
  readonly holds: Holds;
  /** What the rule asks for, such as `list:curators` or `not: PT, ES`. */
  readonly wanted: readonly string[];
  /** The value that the rule saw, or null where the request does not carry it. */
  readonly seen: string | null;
  /** What settled it: the value or list entry that matched, or why nothing did. */
  readonly because: string;
}
