import type { Policy, Rule } from '../../policy/index.js';
import type { Decision, RuleOutcome } from '../decision.js';
import type { Prepared } from '../prepared.js';
import type { Subject } from '../subject.js';
import { testField } from './test.js';
import { allOf, anyOf, MATCH, not, type Truth } from './truth.js';

/**
 * Decides one request by one policy: a plain reading of what the rule language means. Slow, and the oracle of any
 * faster engine.
 */
export function evaluate(policy: Policy, subject: Subject, prepared: Prepared): Decision {
  const outcomes: RuleOutcome[] = [];
  let decidedBy = policy.rules.length;
  for (const [index, rule] of policy.rules.entries()) {
    const outcome = outcomeOf(rule, ruleTruth(rule, subject, prepared), decidedBy < index);
    if (outcome.role === 'decided') decidedBy = index;
    outcomes.push(outcome);
  }
  const verdict = policy.rules[decidedBy]?.then ?? policy.default;
  return { policy, verdict, effect: policy.stance === 'enforce' ? verdict : 'allow', decidedBy, outcomes };
}

/** Whether the rule matches: any of its conditions holds, or it has none, and none of its exceptions does. */
export function ruleTruth(rule: Rule, subject: Subject, prepared: Prepared): Truth {
  const holds = (condition: Rule['when'][number]) => allOf(condition.map((test) => testField(test, subject, prepared)));
  const when = rule.when.length === 0 ? MATCH : anyOf(rule.when.map(holds));
  return allOf([when, not(anyOf(rule.unless.map(holds)))]);
}

function outcomeOf(rule: Rule, truth: Truth, decided: boolean): RuleOutcome {
  if (rule.stance === 'off') return { role: 'off', unseen: [] };
  const matching = decided ? 'overtaken' : rule.stance === 'observe' ? 'observed' : 'decided';
  switch (truth.holds) {
    case 'unseen':
      return { role: rule.ifBlind === 'match' ? matching : 'blind', unseen: truth.fields };
    case 'no match':
      return { role: 'passed', unseen: [] };
    case 'match':
      return { role: matching, unseen: [] };
  }
}
