import { type Limits, limitKey } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import type { KeptOutcome } from './outcome-text.js';
import type { Slot } from './slot.js';

/** Answers for the limits of a policy as a replay has found them for one request, so that it can be explained. */
export function keptLimits(policy: Policy, outcome: KeptOutcome, slots: readonly Slot[]): Limits {
  const acted = new Set([outcome.slot, ...outcome.observed, ...outcome.tagged].map((slot) => slots[slot]?.rule));
  return {
    over: (rule, limit, subject) => {
      const key = limitKey(limit, subject);
      if ('unseen' in key) return { holds: 'unseen', fields: key.unseen };
      return { holds: acted.has(rule.name) && policy.rules.includes(rule) ? 'match' : 'no match' };
    },
  };
}
