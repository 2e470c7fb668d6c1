import type { Prepared, Subject } from '../engine/index.js';
import { defaultSentence, type Policy, type Rule, ruleSentence } from '../policy/index.js';
import { isCertain, type Simplified, simplifiedFor } from './simplify.js';

/** A rule that can apply to a client. */
export interface EffectiveRule {
  readonly rule: string;
  /** The rule's effect on this client, without the conditions that always hold for it. */
  readonly sentence: string;
  readonly stance: Rule['stance'];
  /** Whether it applies to all requests of the client. */
  readonly always: boolean;
}

/** The effect of one policy on a client, rule by rule, in order. */
export interface EffectivePolicy {
  readonly policy: string;
  readonly stance: Policy['stance'];
  readonly rules: readonly EffectiveRule[];
  /** The rules that cannot apply to it, and why. */
  readonly leftOut: Simplified['leftOut'];
  /** The outcome of all other requests; null when a rule above decides everything. */
  readonly default: string | null;
}

/** Lists what a policy can do to a client of which the subject shows a part. */
export function effectivePolicy(policy: Policy, subject: Subject, prepared: Prepared): EffectivePolicy {
  const { policy: left, leftOut, decided } = simplifiedFor(policy, subject, prepared);
  return {
    policy: policy.name,
    stance: policy.stance,
    rules: left.rules.map((rule) => ({
      rule: rule.name,
      sentence: ruleSentence(rule),
      stance: rule.stance,
      always: isCertain(rule),
    })),
    leftOut,
    default: decided ? null : defaultSentence(policy),
  };
}
