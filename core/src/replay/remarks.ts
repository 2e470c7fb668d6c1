import type { PolicyReport, Remark, RuleReport } from './report.js';

type Figures = Omit<PolicyReport, 'remarks'>;

/** What the figures of a policy's rules should make its writer look at, rule by rule. */
export function remarksOf(policy: Figures): Remark[] {
  return policy.rules
    .filter((rule) => rule.stance !== 'off')
    .flatMap((rule) => [...effectOf(rule, policy), ...blindness(rule)]);
}

function effectOf(rule: RuleReport, policy: Figures): Remark[] {
  if (rule.decided > 0 || rule.observed > 0 || rule.tagged > 0) return [];
  if (rule.overtaken > 0 && rule.limit === null)
    return [{ rule: rule.rule, code: 'always-overtaken', text: tellOvertaken(rule, policy) }];
  if (rule.blind > 0 || policy.requests === 0) return [];
  const told = rule.limit === null ? 'matched no request of this log' : 'was never gone over in this log';
  return [{ rule: rule.rule, code: 'no-match', text: `\`${rule.rule}\` ${told}.` }];
}

function tellOvertaken(rule: RuleReport, { rules }: Figures): string {
  const by = rule.overtakenBy.map((each) => `\`${each.rule}\``);
  const told = `\`${rule.rule}\` decided nothing: ${requests(rule.overtaken)} it, and ${by.slice(0, 3).join(', ')} above had decided`;
  const contrary = rules.find(
    (each) => each.then !== rule.then && rule.overtakenBy.some(({ rule: name }) => name === each.rule),
  );
  const remedy = contrary
    ? `To let it act, move it above \`${contrary.rule}\`.`
    : 'They decide the same, so nothing is lost.';
  return `${told}. ${remedy}`;
}

function blindness(rule: RuleReport): Remark[] {
  if (rule.blind === 0) return [];
  const fields = rule.unseen.map(({ field }) => field).join(' and ');
  const count = rule.blind === 1 ? 'one request, which does' : `${rule.blind.toLocaleString('en')} requests, which do`;
  return [
    {
      rule: rule.rule,
      code: 'blind',
      text: `\`${rule.rule}\` could not be judged on ${count} not show the ${fields}.`,
    },
  ];
}

const requests = (count: number): string =>
  count === 1 ? 'one request matches' : `${count.toLocaleString('en')} requests match`;
