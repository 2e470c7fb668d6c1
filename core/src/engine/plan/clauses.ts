import { type Condition, fieldName, type Term, type Test, termsOf, valuesOf } from '../../condition/index.js';
import type { Policy, Rule } from '../../policy/index.js';
import type { PreparedRules } from '../prepared.js';

/**
 * A clause is one condition of a rule, or of a category or application that rules name; each has its bit. Clauses
 * that test the same fields have adjacent bits, so that most words of a vector depend on few fields.
 */
export interface Clauses {
  readonly count: number;
  readonly rules: readonly RuleClauses[];
  /** For each clause the rule that has it in its `when`; -1 for none. */
  readonly ruleOf: Int32Array;
  readonly categories: ReadonlyMap<string, readonly number[]>;
  readonly applications: ReadonlyMap<string, readonly number[]>;
  readonly tests: readonly ClauseTest[];
}

export interface RuleClauses {
  /** Any of them may hold. */
  readonly when: readonly number[];
  readonly unless: readonly number[];
}

export interface ClauseTest {
  readonly clause: number;
  readonly test: Test;
}

/** Numbers the clauses of a policy. Rules that are off have a clause without tests, and never act on it. */
export function numberClauses(policy: Policy, prepared: PreparedRules): Clauses {
  const conditions: Condition[] = [];
  const take = (condition: Condition): number => conditions.push(condition) - 1;
  const taken = policy.rules.map((rule: Rule) =>
    rule.stance === 'off'
      ? { when: [take([])], unless: [] }
      : { when: (rule.when.length === 0 ? [[]] : rule.when).map(take), unless: rule.unless.map(take) },
  );
  const asked = conditions.flat();
  const named = (field: 'category' | 'application', all: ReadonlyMap<string, readonly Condition[]>) =>
    new Map(namesAsked(asked, field, all).map((name) => [name, (all.get(name) ?? []).map(take)]));
  const categories = named('category', prepared.categories);
  const applications = named('application', prepared.applications);
  const places = bitPlaces(conditions);
  const placed = (all: readonly number[]) => all.map((each) => places[each] as number);
  const rules = taken.map(({ when, unless }): RuleClauses => ({ when: placed(when), unless: placed(unless) }));
  const ruleOf = new Int32Array(conditions.length).fill(-1);
  rules.forEach(({ when }, rule) => {
    for (const clause of when) ruleOf[clause] = rule;
  });
  const placedIn = (all: ReadonlyMap<string, readonly number[]>) =>
    new Map([...all].map(([name, clauses]) => [name, placed(clauses)]));
  return {
    count: conditions.length,
    rules,
    ruleOf,
    categories: placedIn(categories),
    applications: placedIn(applications),
    tests: conditions.flatMap((condition, at) => condition.map((test) => ({ clause: places[at] as number, test }))),
  };
}

/** The bit of each condition: those that test the same fields side by side, else in their order. */
function bitPlaces(conditions: readonly Condition[]): Uint32Array {
  const fields = conditions.map((condition) => condition.map(fieldName).sort().join(' '));
  const order = conditions
    .map((_, at) => at)
    .sort((a, b) => compareTexts(fields[a] as string, fields[b] as string) || a - b);
  const places = new Uint32Array(conditions.length);
  order.forEach((condition, place) => {
    places[condition] = place;
  });
  return places;
}

const compareTexts = (a: string, b: string): number => (a === b ? 0 : a < b ? -1 : 1);

/** The names that the tests of the field require; all names, when one requires that there is none. */
function namesAsked(
  tests: readonly Test[],
  field: 'category' | 'application',
  all: ReadonlyMap<string, unknown>,
): string[] {
  const terms: Term[] = tests
    .filter((test) => test.field === field)
    .flatMap((test) => valuesOf(test).flatMap((value) => termsOf(value)));
  if (terms.some((term) => term.type === 'none')) return [...all.keys()];
  return [...new Set(terms.flatMap((term) => (term.type === 'name' ? [term.name] : [])))];
}

/** The tests by the name of their field. */
export function testsByField(tests: readonly ClauseTest[]): Map<string, ClauseTest[]> {
  const found = new Map<string, ClauseTest[]>();
  for (const each of tests) {
    const name = fieldName(each.test);
    const known = found.get(name);
    if (known) known.push(each);
    else found.set(name, [each]);
  }
  return found;
}
