import type { RuleUsage, UsageBody } from '@jade-fence/contract';
import { clock } from './report.js';
import { safe } from './safe.js';
import { counted, countOrDot, table } from './table.js';
import type { Paint } from './terminal.js';
import { verdictWord } from './verdict.js';

/** Whether the rule did nothing in the days that are looked at. */
export const isUnused = ({ decided, observed }: RuleUsage): boolean => decided + observed === 0;

/** How rules were used by live decisions, a row each. */
export function formatUsage({ days, countedSince, rules }: UsageBody, paint: Paint): string {
  if (countedSince === null) return 'No live decision was made yet, so that no rule was used.';
  const since = `Live decisions of the last ${counted(days, 'day', 'days')}; counted since ${countedSince}.`;
  if (rules.length === 0) return `${since}\nNo rule is like that.`;
  const rows = rules.map((rule) => [
    safe(`${rule.policy} / ${rule.rule}`),
    verdictWord(rule.then, paint),
    rule.stance,
    countOrDot(rule.decided),
    countOrDot(rule.observed),
    lastUse(rule),
  ]);
  const right = (title: string) => ({ title, align: 'right' as const });
  const columns = [{ title: 'rule' }, { title: 'then' }, { title: 'stance' }, right('decided'), right('observed')];
  return `${since}\n${table([...columns, { title: 'last used' }], rows, paint)}`;
}

function lastUse({ lastDecided, lastObserved }: RuleUsage): string {
  const last = [lastDecided, lastObserved]
    .filter((each) => each !== null)
    .sort()
    .at(-1);
  return last === undefined ? 'never' : clock(last);
}
