import { type Condition, fieldName, type Test } from '../condition/index.js';
import { explainTest, type Judged, type Prepared, subjectOf, testField } from '../engine/index.js';
import { type Policy, type Rule, ruleSentence } from '../policy/index.js';
import type { AskedAs } from './asked.js';

/** A rule that says something of the value by itself or through a list, a country, a category or an application. */
export interface ConcerningRule {
  readonly policy: string;
  readonly rule: string;
  readonly sentence: string;
  readonly stance: Rule['stance'];
  /** Whether the rule tests it or excepts it. */
  readonly how: 'tests it' | 'excepts it';
  /** The part that concerns the value, in a sentence. */
  readonly because: string;
}

/** Fields that a value alone has, as the client or as the target. */
const FIELDS: Readonly<Record<keyof AskedAs, readonly Test['field'][]>> = {
  client: ['client', 'peer', 'country', 'user'],
  host: ['host', 'url', 'path', 'category', 'application', 'destination', 'destination-country'],
};

/** The rules of all policies that can apply to what was asked, in order. */
export function concerning(as: AskedAs, prepared: Prepared): ConcerningRule[] {
  return [...prepared.workspace.policies.values()].flatMap((policy) =>
    policy.rules.flatMap((rule) => ruleConcerning(rule, policy, as, prepared) ?? []),
  );
}

function ruleConcerning(rule: Rule, policy: Policy, as: AskedAs, prepared: Prepared): ConcerningRule | undefined {
  const shown = { policy: policy.name, rule: rule.name, sentence: ruleSentence(rule), stance: rule.stance };
  for (const [how, conditions] of [
    ['tests it', rule.when],
    ['excepts it', rule.unless],
  ] as const)
    for (const role of ['client', 'host'] as const) {
      const request = as[role];
      if (request === undefined) continue;
      const judged: Judged = { subject: subjectOf(request, policy, prepared), tags: new Set(), prepared };
      const because = whyAmong(conditions, judged, FIELDS[role]);
      if (because !== undefined) return { ...shown, how, because };
    }
  return undefined;
}

/** Why one of the conditions can hold for the value, and through which of its tests. */
function whyAmong(
  conditions: readonly Condition[],
  judged: Judged,
  fields: readonly Test['field'][],
): string | undefined {
  for (const condition of conditions) {
    const tests = condition.map((test) => ({ test, holds: testField(test, judged).holds }));
    if (tests.some(({ holds }) => holds === 'no match')) continue;
    const hits = tests.filter(({ test, holds }) => holds === 'match' && fields.includes(test.field));
    if (hits.length > 0)
      return hits.map(({ test }) => `${fieldName(test)} ${explainTest(test, judged).because}`).join(' and ');
  }
  return undefined;
}
