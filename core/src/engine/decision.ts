import type { FieldName } from '../condition/index.js';
import type { Policy, Record, Verdict } from '../policy/index.js';

/**
 * The outcome of one rule on one request.
 * - `decided`: it matched first, and is final.
 * - `tagged`: it matched before any rule had decided, and put its tags on the request.
 * - `observed`: it matched while in the stance `observe`, before any rule had decided.
 * - `overtaken`: it matched, and an earlier rule had decided. For a rule with a limit its conditions matched: what an
 *   earlier rule has decided is not counted.
 * - `blind`: it could not be judged, since the request does not carry what it tests.
 * - `passed`: it did not match. `off`: it is switched off.
 */
export type RuleRole = 'decided' | 'tagged' | 'observed' | 'overtaken' | 'blind' | 'passed' | 'off';

/** A field that a request does not show; `bytes` is the size of the answer, which limits on amounts count. */
export type Unseen = FieldName | 'bytes';

export interface RuleOutcome {
  readonly role: RuleRole;
  /** The fields that a rule could not see, so that it could not be judged; with `if-blind: match` it matches then. */
  readonly unseen: readonly Unseen[];
}

export interface Decision {
  readonly policy: Policy;
  /** The decision of the rules. */
  readonly verdict: Verdict;
  /** The action taken: the verdict, or `allow` when the policy itself does not enforce. */
  readonly effect: Verdict;
  /** The index of the rule that decided; the number of rules where it was the default. */
  readonly decidedBy: number;
  /** Whether the client had met what the deciding rule asks of it, and is allowed for that. */
  readonly met: boolean;
  /** The tags that rules above the deciding one have put on the request, in their order. */
  readonly tags: readonly string[];
  /** How loudly the request is to be kept: the loudest of the rules that decided, tagged or observed. */
  readonly record: Record;
  /** One outcome for each rule, in order. */
  readonly outcomes: readonly RuleOutcome[];
}
