import { loudest, type Policy, type Record, type Rule } from '../../policy/index.js';
import type { Decision, RuleOutcome, Unseen } from '../decision.js';
import type { Limits } from '../limits.js';
import { NO_TRAFFIC } from '../limits.js';
import type { Prepared } from '../prepared.js';
import { concluded } from '../semantics/concluded.js';
import { allOf, MATCH, not, type Truth } from '../semantics/truth.js';
import type { Subject } from '../subject.js';
import { conditionsHold, type Judged } from './test.js';

/**
 * Decides one request by one policy: a plain reading of what the rule language means. Slow, and the oracle of any
 * faster engine. `limits` remembers what came before; without it, nothing did.
 *
 * Rules behind the one that decided are judged as if nothing had: their tags count for each other, and a limit is not
 * asked.
 */
export function evaluate(policy: Policy, subject: Subject, prepared: Prepared, limits: Limits = NO_TRAFFIC): Decision {
  const outcomes: RuleOutcome[] = [];
  const tags = new Set<string>();
  let tagsPut: readonly string[] = [];
  let decidedBy = policy.rules.length;
  for (const [index, rule] of policy.rules.entries()) {
    const decided = decidedBy < index;
    const judged = { subject, tags, prepared };
    const outcome = rule.stance === 'off' ? OFF : outcomeOf(rule, judged, decided, limits);
    if (rule.then.type === 'tag' && isMatch(outcome) && rule.stance === 'enforce')
      for (const tag of rule.then.tags) tags.add(tag);
    if (outcome.role === 'tagged') tagsPut = [...tags];
    if (outcome.role === 'decided') decidedBy = index;
    outcomes.push(outcome);
  }
  return {
    ...concluded(policy, decidedBy, subject.request.met),
    decidedBy,
    tags: tagsPut,
    record: recordOf(policy, outcomes),
    outcomes,
  };
}

const OFF: RuleOutcome = { role: 'off', unseen: [] };

/**
 * The outcome of a rule. It matches where its conditions do, or are taken for it, and its limit, if it has one, is over;
 * what matches the conditions, or is taken for it, is counted. Behind a rule that has decided a limit is not asked.
 * Unseen fields are a blind spot, whether the rule matches or not.
 */
function outcomeOf(rule: Rule, judged: Judged, decided: boolean, limits: Limits): RuleOutcome {
  const conditions = conditionsTruth(rule, judged);
  if (conditions.holds === 'no match') return { role: 'passed', unseen: [] };
  const taken = conditions.holds === 'match' || rule.ifBlind === 'match';
  const limit = taken && rule.limit !== undefined && !decided ? limits.over(rule, rule.limit, judged.subject) : MATCH;
  const unseen = unseenIn(conditions, limit);
  const matches = taken && (limit.holds === 'match' || (limit.holds === 'unseen' && rule.ifBlind === 'match'));
  if (!matches) return { role: unseen.length > 0 ? 'blind' : 'passed', unseen };
  if (decided) return { role: 'overtaken', unseen };
  if (rule.stance === 'observe') return { role: 'observed', unseen };
  return { role: rule.then.type === 'tag' ? 'tagged' : 'decided', unseen };
}

/** Whether any of its conditions holds, or it has none, and none of its exceptions does. */
function conditionsTruth(rule: Rule, judged: Judged): Truth {
  const when = rule.when.length === 0 ? MATCH : conditionsHold(rule.when, judged);
  return allOf([when, not(conditionsHold(rule.unless, judged))]);
}

const unseenIn = (...truths: readonly Truth[]): readonly Unseen[] => [
  ...new Set(truths.flatMap((truth) => (truth.holds === 'unseen' ? truth.fields : []))),
];

const isMatch = ({ role }: RuleOutcome): boolean =>
  role === 'decided' || role === 'tagged' || role === 'observed' || role === 'overtaken';

/** The loudest of the rules that acted; where none did, `log`. */
function recordOf(policy: Policy, outcomes: readonly RuleOutcome[]): Record {
  const acted = outcomes.map(({ role }) => role === 'decided' || role === 'tagged' || role === 'observed');
  return loudest(policy.rules.filter((_, index) => acted[index]).map((rule) => rule.record));
}
