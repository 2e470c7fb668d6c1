import type { ReplayBody } from '@jade-fence/contract';
import type { Breakdown, Dimension, PolicyReport, Report, RuleReport, Share } from '@jade-fence/core/replay';
import { logsOf, stateOf } from './of-replay.js';
import { safe } from './safe.js';
import { beside, count, countOrDot, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';
import { verdictWord } from './verdict.js';

const BAR = 30;
const ROWS_SHOWN = 8;
const BAR_COLOURS: Record<string, 'green' | 'red' | 'dim'> = { allow: 'green', block: 'red', uncovered: 'dim' };

/** The report of a replay for people. */
export function formatReport(replay: ReplayBody, report: Report, terminal: Terminal): string {
  const { paint } = terminal;
  const span = report.first === null ? '' : `, ${clock(report.first)} to ${clock(report.last as string)} UTC`;
  return [
    [
      `${paint.bold(`Replay ${replay.id} of ${logsOf(replay)}`)}: ${count(report.requests)} requests${span}`,
      ...(replay.revision === null ? [`  Judged by ${stateOf(replay)}.`] : []),
      ...replay.notes.map((note) => `  ${safe(note)}`),
    ].join('\n'),
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
  const words = names.filter((name) => name === 'allow' || name === 'block' || verdicts[name] > 0);
  const rows = [...words.map((name) => row(name, verdicts[name])), row('uncovered', uncovered)];
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

/** The main figures of a replay, side by side in pairs. */
const SIDE_BY_SIDE: readonly (readonly [Dimension, Dimension])[] = [
  ['country', 'host'],
  ['client', 'method'],
  ['category', 'application'],
];

function formatShares({ breakdowns }: Report, { paint, columns: width }: Terminal): string {
  const destinations = breakdowns['destination-country'];
  const words = SIDE_BY_SIDE.filter((pair) => pair.some((dimension) => breakdowns[dimension].rows.length > 0));
  const tables = words.map(([left, right]) =>
    beside(
      formatBreakdown(left, breakdowns[left], ROWS_SHOWN, paint),
      formatBreakdown(right, breakdowns[right], ROWS_SHOWN, paint),
      width,
    ),
  );
  // Most logs do not show the addresses of destinations.
  if (destinations.rows.some(({ key }) => key !== null))
    tables.push(formatBreakdown('destination-country', destinations, ROWS_SHOWN, paint));
  return [...tables, ...formatRecorded(breakdowns.status, paint)].join('\n\n');
}

const PLURALS: Readonly<Record<Dimension, string>> = {
  ...{ country: 'countries', client: 'clients', host: 'hosts', category: 'categories', application: 'applications' },
  'destination-country': 'countries',
  ...{ method: 'methods', status: 'statuses', hour: 'hours' },
};

/** Requests by one dimension, at most this many rows. */
export function formatBreakdown(dimension: Dimension, { rows, more }: Breakdown, most: number, paint: Paint): string {
  const stops = VERDICT_COLUMNS.filter((name) => rows.some((each) => each[name] > 0));
  const shown = ['allow', 'block', ...stops, 'uncovered'] as const;
  const cells = rows
    .slice(0, most)
    .map((each) => [
      dimension === 'hour' && each.key !== null ? clock(each.key) : safe(each.key ?? 'unseen'),
      count(each.requests),
      ...shown.map((name) => countOrDot(each[name])),
    ]);
  const left = rows.length - cells.length + more;
  const rest = left > 0 ? paint.dim(`\n… and ${count(left)} more ${PLURALS[dimension]}`) : '';
  return table([{ title: dimension }, right('requests'), ...shown.map(right)], cells, paint) + rest;
}

/** Statuses of a refusal, rather than of an answer or a fault. */
const REFUSALS = ['401', '403', '407', '429', '451'];

/** What the log says was answered, against the verdicts. */
function formatRecorded({ rows }: Breakdown, paint: Paint): string[] {
  const stopped = ({ key }: Share) => key !== null && REFUSALS.includes(key);
  const passed = ({ key }: Share) => key !== null && key < '400';
  const sum = (which: (row: Share) => boolean, of: (row: Share) => number) =>
    rows.filter(which).reduce((total, row) => total + of(row), 0);
  const stops = (row: Share) => row.requests - row.allow - row.uncovered;
  const now = sum(passed, stops);
  const then = sum(stopped, (row) => row.allow);
  const lines = [
    ...(now > 0 ? [`${count(now)} requests were let through then, and are not allowed now.`] : []),
    ...(then > 0 ? [`${count(then)} requests were refused then (${REFUSALS.join(', ')}), and are allowed now.`] : []),
  ];
  return lines.length === 0 ? [] : [lines.map((line) => `${paint.yellow('>')} ${line}`).join('\n')];
}

/** Shown where they occur. */
const VERDICT_COLUMNS = ['redirect', 'challenge', 'confirm', 'unlock'] as const;

const right = (title: string) => ({ title, align: 'right' as const });

/** 2026-11-09 07:31 */
export const clock = (time: string): string => time.slice(0, 16).replace('T', ' ');
