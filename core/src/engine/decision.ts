import type { Field, Policy, Verdict } from '../policy/index.js';

/**
 * What became of one rule on one request.
 * - `decided`: it matched first, and is final.
 * - `observed`: it matched while in the stance `observe`, before any rule had decided.
 * - `overtaken`: it matched, and an earlier rule had decided.
 * - `blind`: it could not be judged, since the request does not carry what it asks for.
 * - `passed`: it did not match. `off`: it is switched off.
 */
export type Role = 'decided' | 'observed' | 'overtaken' | 'blind' | 'passed' | 'off';

export interface RuleOutcome {
  readonly role: Role;
  /** The fields that the rule could not see, where it could not be judged; with `if-blind: match` it matches then. */
  readonly unseen: readonly Field[];
}

export interface Decision {
  readonly policy: Policy;
  /** What the rules say. */
  readonly verdict: Verdict;
  /** What is done: the verdict, or `allow` where the policy itself does not enforce. */
  readonly effect: Verdict;
  /** The index of the rule that decided; the number of rules where it was the default. */
  readonly decidedBy: number;
  /** One outcome for each rule, in order. */
  readonly outcomes: readonly RuleOutcome[];
}
