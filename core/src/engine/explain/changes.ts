import type { Policy, Rule } from '../../policy/index.js';
import type { Decision, RuleOutcome } from '../decision.js';
import type { ExplainedCondition, ExplainedTest, NeededChange } from './explanation.js';

/** A rule of a decision with its conditions as they were explained. */
export interface JudgedRule {
  readonly rule: Rule;
  readonly index: number;
  readonly when: readonly ExplainedCondition[];
  readonly unless: readonly ExplainedCondition[];
}

/** The least that would have to change for the rule to act on the request. */
export function changesFor({ rule, index, when, unless }: JudgedRule, decision: Decision): NeededChange[] {
  const { role, unseen } = decision.outcomes[index] as RuleOutcome;
  if (role === 'decided' || role === 'tagged') return [];
  const byCondition = role === 'overtaken' || role === 'observed' ? [] : [...nearest(when), ...exceptions(unless)];
  // A rule whose conditions hold and that still passes has a limit that was not exceeded.
  const byLimit = byCondition.length === 0 && rule.limit !== undefined && (role === 'passed' || role === 'blind');
  return [
    ...byCondition,
    ...(byLimit ? limitChanges(unseen) : []),
    ...earlierDeciding(decision, index).map((name): NeededChange => ({ type: 'above', rule: name })),
    ...(rule.stance === 'enforce' ? [] : [{ type: 'stance', stance: rule.stance } satisfies NeededChange]),
  ];
}

/** The changes that the nearest condition needs: the one with the fewest tests that do not hold. */
function nearest(when: readonly ExplainedCondition[]): NeededChange[] {
  const asked = when.map((condition) => condition.tests.filter((test) => test.holds !== 'match'));
  const fewest = asked.toSorted((a, b) => a.length - b.length)[0] ?? [];
  return fewest.map((test: ExplainedTest): NeededChange => {
    const { field, seen, wanted } = test;
    return test.holds === 'unseen' ? { type: 'show', field } : { type: 'field', field, seen, wanted };
  });
}

function exceptions(unless: readonly ExplainedCondition[]): NeededChange[] {
  return unless
    .filter((condition) => condition.holds !== 'no match')
    .map(({ holds, tests }): NeededChange => {
      const fields = tests.map((test) => test.field);
      const hidden = tests.find((test) => test.holds === 'unseen');
      return holds === 'unseen' && hidden ? { type: 'show', field: hidden.field } : { type: 'exception', fields };
    });
}

function limitChanges(unseen: RuleOutcome['unseen']): NeededChange[] {
  const hidden = unseen.flatMap((field) => (field === 'bytes' ? [] : [field]));
  return hidden.length === 0 ? [{ type: 'limit' }] : hidden.map((field): NeededChange => ({ type: 'show', field }));
}

/** The rules above that match and would decide, each of which keeps the rule from its turn. */
function earlierDeciding({ policy, outcomes }: Decision, index: number): string[] {
  return outcomes.slice(0, index).flatMap(({ role }, above) => {
    const rule = (policy as Policy).rules[above] as Rule;
    const decides =
      rule.stance === 'enforce' && rule.then.type !== 'tag' && (role === 'decided' || role === 'overtaken');
    return decides ? [rule.name] : [];
  });
}

/** The changes in a sentence; null where there are none. */
export function changesSentence(changes: readonly NeededChange[]): string | null {
  if (changes.length === 0) return null;
  return `It would act if ${changes.map(changePhrase).join(', and ')}.`;
}

function changePhrase(change: NeededChange): string {
  switch (change.type) {
    case 'field':
      return `${change.field} were ${change.wanted.join(' or ')}`;
    case 'show':
      return `the request showed its ${change.field}`;
    case 'exception':
      return `its exception for ${change.fields.join(' and ')} did not hold`;
    case 'limit':
      return 'there were more requests of the same key';
    case 'above':
      return `it were above ${change.rule}`;
    case 'stance':
      return change.stance === 'off' ? 'it were switched on' : 'it were enforced';
  }
}
