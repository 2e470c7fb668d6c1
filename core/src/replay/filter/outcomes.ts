import type { KeptOutcome } from '../outcome-text.js';
import type { Slot } from '../slot.js';
import type { RequestFilter } from './request-filter.js';

/** The numbers of the slots that `policy` and `rule` name. */
export function namedSlots(slots: readonly Slot[], filter: RequestFilter): number[] {
  const name = (slot: Slot) => slot.rule ?? 'default';
  return slots.flatMap((slot, number) => {
    const named = filter.rule === undefined || name(slot) === filter.rule;
    return named && (filter.policy === undefined || slot.policy === filter.policy) ? [number] : [];
  });
}

/** Whether the filter selects the outcome of a request. */
export function outcomeTest(
  slots: readonly Slot[],
  filter: RequestFilter,
): (outcome: KeptOutcome | undefined) => boolean {
  const { verdict, policy, rule, role = 'decided' } = filter;
  const named = new Set(namedSlots(slots, filter));
  const ofPolicy = new Set(namedSlots(slots, { policy }));
  const byDecision = rule !== undefined || policy !== undefined;
  return (outcome) => {
    if (outcome === undefined)
      return (verdict === undefined || verdict === 'uncovered') && !byDecision && role === 'decided';
    if (verdict !== undefined && outcome.verdict !== verdict) return false;
    if (!ofPolicy.has(outcome.slot)) return false;
    if (role === 'decided') return rule === undefined || named.has(outcome.slot);
    return role === 'blind'
      ? outcome.blind.some(({ slot }) => named.has(slot))
      : outcome[role].some((slot) => named.has(slot));
  };
}
