import type { Policy } from '../policy/index.js';

/** A place that can decide requests: a rule of a policy, or the policy's default (`rule` null). */
export interface Slot {
  readonly policy: string;
  readonly rule: string | null;
}

/** All slots of the policies, numbered through: each policy's rules in order, then its default. */
export interface Slots {
  readonly slots: readonly Slot[];
  /** The number of each policy's first slot. */
  readonly first: ReadonlyMap<string, number>;
}

/** Numbers the rules of policies in order, and after the rules of each its default. */
export function numberSlots(policies: Iterable<Policy>): Slots {
  const slots: Slot[] = [];
  const first = new Map<string, number>();
  for (const policy of policies) {
    first.set(policy.name, slots.length);
    for (const rule of policy.rules) slots.push({ policy: policy.name, rule: rule.name });
    slots.push({ policy: policy.name, rule: null });
  }
  return { slots, first };
}
