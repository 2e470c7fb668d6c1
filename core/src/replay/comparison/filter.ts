import { countriesIn } from '../../engine/index.js';
import type { Verdict } from '../../policy/index.js';
import { UNSEEN } from '../filter/rows.js';
import type { Slot } from '../slot.js';
import { type ComparedChunk, decided } from './comparison.js';

/** Which requests of a comparison to show; what is not given does not matter. */
export interface ChangeFilter {
  readonly was?: Verdict | 'uncovered' | undefined;
  readonly is?: Verdict | 'uncovered' | undefined;
  readonly policy?: string | undefined;
  /** A rule's name, or `default`: what decided before or decides now. */
  readonly rule?: string | undefined;
  /** The country of the client, and of the destination: a code, `private`, `unknown` or `unseen`; as it is now. */
  readonly country?: string | undefined;
  readonly destinationCountry?: string | undefined;
}

/**
 * Finds the rows of a chunk whose verdict changed and that the filter selects, in order, from the row `from` on and at
 * most `most`.
 */
export function filterChanges(
  { before, after }: ComparedChunk,
  slots: { readonly before: readonly Slot[]; readonly after: readonly Slot[] },
  { was, is, policy, rule, country, destinationCountry }: ChangeFilter,
  from: number,
  most: number,
): number[] {
  const known = new Map<string, boolean>();
  const wanted = (row: number): boolean => {
    const sides = [decided(before.outcome(row), slots.before), decided(after.outcome(row), slots.after)] as const;
    if (sides[0].verdict === sides[1].verdict) return false;
    if ((was !== undefined && sides[0].verdict !== was) || (is !== undefined && sides[1].verdict !== is)) return false;
    if (policy === undefined && rule === undefined) return true;
    return sides.some(
      (side) =>
        side.policy !== null &&
        (policy === undefined || side.policy === policy) &&
        (rule === undefined || (side.rule ?? 'default') === rule),
    );
  };
  const isFrom = (row: number): boolean => country === undefined || (after.country(row) ?? UNSEEN) === country;
  const goesTo = (row: number): boolean =>
    destinationCountry === undefined ||
    countriesIn(after.destinationCountry(row) ?? UNSEEN).includes(destinationCountry);
  const rows: number[] = [];
  for (let row = from; row < before.rows && rows.length < most; row++) {
    const key = `${before.outcomeCode(row)} ${after.outcomeCode(row)}`;
    let holds = known.get(key);
    if (holds === undefined) {
      holds = wanted(row);
      known.set(key, holds);
    }
    if (holds && isFrom(row) && goesTo(row)) rows.push(row);
  }
  return rows;
}
