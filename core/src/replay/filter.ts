import type { Verdict } from '../policy/index.js';
import type { KeptOutcome } from './outcome-text.js';
import type { Slot } from './slot.js';
import type { SideRole, Verdicts } from './verdicts.js';

/** Which requests of a replay to show; what is not given does not matter. */
export interface RequestFilter {
  readonly verdict?: Verdict | 'uncovered' | undefined;
  readonly policy?: string | undefined;
  /** A rule's name, or `default`. */
  readonly rule?: string | undefined;
  /** What the rule did; without it `decided`. */
  readonly role?: 'decided' | SideRole | undefined;
  /** A country code, `private`, `unknown`, or `unseen`. */
  readonly country?: string | undefined;
}

/** Finds the rows of a chunk's verdicts that a filter asks for, in order, from the row `from` on and at most `most`. */
export function filterRows(
  verdicts: Verdicts,
  slots: readonly Slot[],
  filter: RequestFilter,
  from: number,
  most: number,
): number[] {
  const country =
    filter.country === undefined
      ? undefined
      : verdicts.countryCode(filter.country === 'unseen' ? null : filter.country);
  if (filter.country !== undefined && country === undefined) return [];
  const wanted = outcomeTest(slots, filter);
  const known = new Map<number, boolean>();
  const rows: number[] = [];
  for (let row = from; row < verdicts.rows && rows.length < most; row++) {
    if (country !== undefined && verdicts.countryCodeOf(row) !== country) continue;
    const code = verdicts.outcomeCode(row);
    let holds = known.get(code);
    if (holds === undefined) {
      holds = wanted(verdicts.outcome(row));
      known.set(code, holds);
    }
    if (holds) rows.push(row);
  }
  return rows;
}

/** The numbers of the slots that `policy` and `rule` name. */
export function namedSlots(slots: readonly Slot[], filter: RequestFilter): number[] {
  const name = (slot: Slot) => slot.rule ?? 'default';
  return slots.flatMap((slot, number) => {
    const named = filter.rule === undefined || name(slot) === filter.rule;
    return named && (filter.policy === undefined || slot.policy === filter.policy) ? [number] : [];
  });
}

function outcomeTest(slots: readonly Slot[], filter: RequestFilter): (outcome: KeptOutcome | undefined) => boolean {
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
