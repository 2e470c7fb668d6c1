import type { PolicyReport, Report, RuleReport } from '@jade-fence/core';
import type { ReplayBody } from '@jade-fence/service/bodies';
import { safe } from './safe.js';
import { beside, count, countOrDot, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';
import { verdictWord } from './verdict.js';

const BAR = 30;
const COUNTRIES_TOLD = 12;
const HOSTS_TOLD = 12;
const BAR_COLOURS: Record<string, 'green' | 'red' | 'dim'> = { allow: 'green', block: 'red', uncovered: 'dim' };

/** The report of a replay for people. */
export function formatReport(replay: ReplayBody, report: Report, terminal: Terminal): string {
  const { paint } = terminal;
  const span = report.first === null ? '' : `, ${clock(report.first)} to ${clock(report.last as string)} UTC`;
  const by = replay.policy === null ? '' : `, all judged by ${replay.policy}`;
  return [
    `${paint.bold(`Replay ${replay.id} of log ${replay.log ?? 'deleted'}`)}: ${count(report.requests)} requests${span}${by}`,
    indent(formatTotals(report, paint), '  '),
    ...report.policies.map((policy) => formatPolicy(policy, paint)),
    formatShares(report, terminal),
  ].join('\n\n');
}

function formatTotals({ requests, verdicts, effects, uncovered }: Report, paint: Paint): string {
  const bar = (part: number) => '█'.repeat(requests === 0 ? 0 : Math.ceil((part / requests) * BAR));
  const row = (name: string, part: number) => {
    const colour = BAR_COLOURS[name] ?? 'yellow';
    return [verdictWord(name, paint), count(part), share(part, requests), paint[colour](bar(part))];
  };
  const names = Object.keys(verdicts) as (keyof Report['verdicts'])[];
  const told = names.filter((name) => name === 'allow' || name === 'block' || verdicts[name] > 0);
  const rows = [...told.map((name) => row(name, verdicts[name])), row('uncovered', uncovered)];
  const letThrough = effects.allow - verdicts.allow;
  const held =
    letThrough === 0
      ? ''
      : `\nOf those not to allow, ${count(letThrough)} are let through: their policy does not enforce.`;
  return table([{ title: 'verdict' }, right('requests'), right('share'), { title: '' }], rows, paint) + held;
}

function formatPolicy(policy: PolicyReport, paint: Paint): string {
  const stance = policy.stance === 'enforce' ? '' : paint.yellow(`  (${policy.stance})`);
  const head = `${paint.bold(policy.policy)}${stance}: ${count(policy.requests)} requests, ${count(policy.verdicts.allow)} allowed, ${count(policy.requests - policy.verdicts.allow)} not`;
  const roles = ROLES.filter((role) => role !== 'tagged' || policy.rules.some((rule) => rule.then === 'tag'));
  const ofDefault = roles.map((role) => (role === 'decided' ? countOrDot(policy.default.decided) : ''));
  const last = ['default', verdictWord(policy.default.then, paint), '', count(policy.default.arrived), ...ofDefault];
  const columns = [...['rule', 'then', 'stance'].map((title) => ({ title })), right('arrived'), ...roles.map(right)];
  const rows = [...policy.rules.map((rule) => ruleRow(rule, roles, paint)), last];
  const remarks = policy.remarks.map((remark) => `${paint.yellow('!')} ${remark.text}`);
  const below = [...policy.rules.flatMap((rule) => limitLine(rule, paint)), ...remarks].join('\n');
  return [head, indent(table(columns, rows, paint), '  '), ...(below === '' ? [] : [indent(below, '  ')])].join('\n');
}

const ROLES = ['decided', 'tagged', 'observed', 'overtaken', 'blind'] as const;
type Role = (typeof ROLES)[number];

/** Who was over a rule's limit, and by how much at most. */
function limitLine({ rule, limit }: RuleReport, paint: Paint): string[] {
  const [worst] = limit?.worst ?? [];
  if (!limit || !worst) return [];
  const over = limit.keysOver === 1 ? 'one key was' : `${count(limit.keysOver)} keys were`;
  const amount = limit.counts === 'bytes' ? 'bytes' : 'requests';
  const peak = `${safe(worst.key)}, ${count(worst.peak)} within ${count(limit.within)} s at ${clock(worst.at)}`;
  return [
    `${paint.yellow('>')} \`${rule}\`: ${over} over ${count(limit.moreThan)} ${amount}; the highest was ${peak}.`,
  ];
}

function ruleRow(rule: RuleReport, roles: readonly Role[], paint: Paint): string[] {
  const figures = roles.map((role) => countOrDot(rule[role]));
  const stance = rule.stance === 'enforce' ? '' : paint.yellow(rule.stance);
  return [rule.rule, verdictWord(rule.then, paint), stance, count(rule.arrived), ...figures];
}

function formatShares({ countries, hosts, moreHosts }: Report, { paint, columns: width }: Terminal): string {
  const stops = VERDICT_COLUMNS.filter((name) => countries.some((each) => each[name] > 0));
  const shown = ['allow', 'block', ...stops, 'uncovered'] as const;
  const columns = (title: string) => [{ title }, right('requests'), ...shown.map(right)];
  const row = (name: string, each: Report['countries'][number] | Report['hosts'][number]) => [
    name,
    count(each.requests),
    ...shown.map((name) => countOrDot(each[name])),
  ];
  const byCountry = countries.slice(0, COUNTRIES_TOLD).map((each) => row(each.country ?? 'unseen', each));
  const byHost = hosts.slice(0, HOSTS_TOLD).map((each) => row(each.host ?? 'unseen', each));
  const more = (left: number, what: string) => (left > 0 ? paint.dim(`\n… and ${count(left)} more ${what}`) : '');
  return beside(
    table(columns('country'), byCountry, paint) + more(countries.length - byCountry.length, 'countries'),
    table(columns('host'), byHost, paint) + more(hosts.length - byHost.length + moreHosts, 'hosts'),
    width,
  );
}

/** Shown where they occur. */
const VERDICT_COLUMNS = ['redirect', 'challenge', 'confirm', 'unlock'] as const;

const right = (title: string) => ({ title, align: 'right' as const });

/** 2026-11-09 07:31 */
export const clock = (time: string): string => time.slice(0, 16).replace('T', ' ');
