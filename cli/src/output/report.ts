import type { PolicyReport, Report, RuleReport } from '@jade-fence/core';
import type { ReplayBody } from '@jade-fence/service/bodies';
import { beside, count, countOrDot, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';
import { verdictWord } from './verdict.js';

const BAR = 30;
const COUNTRIES_TOLD = 12;
const HOSTS_TOLD = 12;

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
  const rows = [
    [
      verdictWord('allow', paint),
      count(verdicts.allow),
      share(verdicts.allow, requests),
      paint.green(bar(verdicts.allow)),
    ],
    [
      verdictWord('block', paint),
      count(verdicts.block),
      share(verdicts.block, requests),
      paint.red(bar(verdicts.block)),
    ],
    [verdictWord('uncovered', paint), count(uncovered), share(uncovered, requests), paint.dim(bar(uncovered))],
  ];
  const held =
    effects.block === verdicts.block
      ? ''
      : `\nOf those to block, ${count(verdicts.block - effects.block)} are let through: their policy does not enforce.`;
  return table([{ title: 'verdict' }, right('requests'), right('share'), { title: '' }], rows, paint) + held;
}

function formatPolicy(policy: PolicyReport, paint: Paint): string {
  const stance = policy.stance === 'enforce' ? '' : paint.yellow(`  (${policy.stance})`);
  const head = `${paint.bold(policy.policy)}${stance}: ${count(policy.requests)} requests, ${count(policy.verdicts.allow)} allowed, ${count(policy.verdicts.block)} blocked`;
  const last = [
    'default',
    verdictWord(policy.default.then, paint),
    '',
    count(policy.default.arrived),
    countOrDot(policy.default.decided),
    '',
    '',
    '',
  ];
  const columns = [
    { title: 'rule' },
    { title: 'then' },
    { title: 'stance' },
    right('arrived'),
    right('decided'),
    right('observed'),
    right('overtaken'),
    right('blind'),
  ];
  const rows = [...policy.rules.map((rule) => ruleRow(rule, paint)), last];
  const remarks = policy.remarks.map((remark) => `${paint.yellow('!')} ${remark.text}`).join('\n');
  return [head, indent(table(columns, rows, paint), '  '), ...(remarks === '' ? [] : [indent(remarks, '  ')])].join(
    '\n',
  );
}

function ruleRow(rule: RuleReport, paint: Paint): string[] {
  const figures = [rule.decided, rule.observed, rule.overtaken, rule.blind].map(countOrDot);
  const stance = rule.stance === 'enforce' ? '' : paint.yellow(rule.stance);
  return [rule.rule, verdictWord(rule.then, paint), stance, count(rule.arrived), ...figures];
}

function formatShares({ countries, hosts, moreHosts }: Report, { paint, columns: width }: Terminal): string {
  const columns = (title: string) => [{ title }, right('requests'), right('allow'), right('block'), right('uncovered')];
  const row = (name: string, each: Report['countries'][number] | Report['hosts'][number]) => [
    name,
    count(each.requests),
    ...[each.allow, each.block, each.uncovered].map(countOrDot),
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

const right = (title: string) => ({ title, align: 'right' as const });

/** 2026-11-09 07:31 */
export const clock = (time: string): string => time.slice(0, 16).replace('T', ' ');
