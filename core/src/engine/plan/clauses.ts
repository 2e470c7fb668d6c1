import { type Condition, fieldName, type Term, type Test, termsOf, valuesOf } from '../../condition/index.js';
import type { Policy, Rule } from '../../policy/index.js';
import type { Prepared } from '../prepared.js';

/**
 * A clause is one condition of a rule, or of a category or application that rules ask for; each has its bit. The
 * clause of a rule's first `when` has the rule's own number, so that for most rules the clause is the rule.
 */
export interface Clauses {
  readonly count: number;
  readonly rules: readonly RuleClauses[];
  /** The rules whose truth is more than that of the clause with their number. */
  readonly compound: readonly number[];
  readonly categories: ReadonlyMap<string, readonly number[]>;
  readonly applications: ReadonlyMap<string, readonly number[]>;
  readonly tests: readonly ClauseTest[];
}

export interface RuleClauses {
  /** The first is the rule's own number; several: any of them. */
  readonly when: readonly number[];
  readonly unless: readonly number[];
}

export interface ClauseTest {
  readonly clause: number;
  readonly test: Test;
}

/** Numbers the clauses of a policy. Rules that are off have a clause without tests, and never act on it. */
export function numberClauses(policy: Policy, prepared: Prepared): Clauses {
  const tests: ClauseTest[] = [];
  let count = policy.rules.length;
  const take = (condition: Condition, clause = count++): number => {
    for (const test of condition) tests.push({ clause, test });
    return clause;
  };
  const rules = policy.rules.map((rule: Rule, number): RuleClauses => {
    if (rule.stance === 'off') return { when: [number], unless: [] };
    const [first = [], ...others] = rule.when;
    return {
      when: [take(first, number), ...others.map((each) => take(each))],
      unless: rule.unless.map((each) => take(each)),
    };
  });
  const asked = tests.map(({ test }) => test);
  const named = (field: 'category' | 'application', all: ReadonlyMap<string, readonly Condition[]>) =>
    new Map(namesAsked(asked, field, all).map((name) => [name, (all.get(name) ?? []).map((each) => take(each))]));
  const categories = named('category', prepared.categories);
  const applications = named('application', prepared.applications);
  const compound = rules.flatMap(({ when, unless }, number) => (when.length > 1 || unless.length > 0 ? [number] : []));
  return { count, rules, compound, categories, applications, tests };
}

/** The names that the tests of the field ask for; all that there are, where one asks for what is in none. */
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
