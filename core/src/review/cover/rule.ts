import { type Condition, fieldName, type Test, valuesOf } from '../../condition/index.js';
import type { Prepared } from '../../engine/index.js';
import type { Policy, Rule } from '../../policy/index.js';
import { remembered } from './remember.js';
import { type Reads, testCovers } from './test.js';

/** Whether a request for which the inner condition holds always makes the outer one hold. */
export function conditionCovers(outer: Condition, inner: Condition, prepared: Prepared, reads: Reads): boolean {
  const own = testsByField(inner, prepared);
  // Decided by the fields alone, before any values are compared.
  for (const field of testsByField(outer, prepared).keys()) if (!own.has(field)) return false;
  return outer.every((test) => testCovers(test, own.get(fieldName(test)) as Test, prepared, reads));
}

const testsByField = remembered(
  (condition: Condition) => new Map(condition.map((test): [string, Test] => [fieldName(test), test])),
);

/** The conditions of a rule, of which any may hold; one that always does where it has none. */
export const conditionsOf = (rule: Rule): readonly Condition[] => (rule.when.length === 0 ? ALWAYS : rule.when);

const ALWAYS: readonly Condition[] = [[]];

/**
 * Whether a request that matches the rule by this condition is always decided by the earlier rule, if by none above it.
 * It is never wrongly true: when unknown, the answer is no.
 */
export function ruleCovers(
  policy: Policy,
  earlier: number,
  later: number,
  condition: Condition,
  prepared: Prepared,
): boolean {
  const [above, below] = [policy.rules[earlier] as Rule, policy.rules[later] as Rule];
  if (above.stance !== 'enforce' || above.then.type === 'tag' || above.limit !== undefined) return false;
  // A rule that takes what it cannot judge matches where the earlier one may be blind.
  if (below.ifBlind === 'match' && (above.when.length > 0 || above.unless.length > 0)) return false;
  if (asksTags(above, prepared) && policy.rules.slice(earlier, later).some((rule) => rule.then.type === 'tag'))
    return false;
  return (
    conditionsOf(above).some((outer) => conditionCovers(outer, condition, prepared, policy)) &&
    above.unless.every((exception) => below.unless.some((own) => conditionCovers(own, exception, prepared, policy)))
  );
}

const asksTags = remembered((rule: Rule) => [...rule.when, ...rule.unless].flat().some((test) => test.field === 'tag'));

/** A condition with one of a test's values alone. */
export function withOnly(condition: Condition, test: Test, place: number): Condition {
  const one = singlesOf(test)[place] as Test;
  return condition.map((each) => (each === test ? one : each));
}

const singles = new WeakMap<Test, readonly Test[]>();

/** The test with each of its values alone; always the same ones, so that what was made of them is remembered. */
function singlesOf(test: Test): readonly Test[] {
  const found = singles.get(test) ?? valuesOf(test).map((value) => ({ ...test, values: [value] }) as unknown as Test);
  singles.set(test, found);
  return found;
}
