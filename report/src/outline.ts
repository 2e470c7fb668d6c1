import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import {
  type Breakdown,
  DIMENSIONS,
  type Dimension,
  type PolicyReport,
  type Report,
  type Share,
} from '@jade-fence/core/replay';

/** What a report says, in order, before it is written as a page of any kind. */
export type Block =
  | { readonly type: 'heading'; readonly level: 1 | 2; readonly text: string }
  | { readonly type: 'text'; readonly text: string }
  | { readonly type: 'list'; readonly items: readonly string[] }
  | { readonly type: 'table'; readonly columns: readonly Column[]; readonly rows: readonly (readonly string[])[] }
  | { readonly type: 'bars'; readonly label: string; readonly bars: readonly Bar[] };

export interface Column {
  readonly title: string;
  readonly align: 'left' | 'right';
}

/** Requests of one span of time, by their outcome. */
export interface Bar {
  readonly label: string;
  readonly allowed: number;
  readonly stopped: number;
  readonly uncovered: number;
}

/** What a page shows beside the report. */
export interface PageFacts {
  readonly replay: number;
  readonly log: string;
  /** What else has to be known of it, such as that it is of a part of the log only; a sentence each. */
  readonly notes?: readonly string[];
}

const ROWS_SHOWN = 25;
/** More hours than this are shown by day. */
const MOST_HOURS = 72;

/** What a report says, in order, as blocks that any form of page can be made of. */
export function outlineOf(report: Report, { replay, log, notes = [] }: PageFacts): Block[] {
  const span = report.first === null ? '' : `, ${clock(report.first)} to ${clock(report.last as string)} UTC`;
  return [
    { type: 'heading', level: 1, text: `Replay ${replay} of log ${log}` },
    { type: 'text', text: `${count(report.requests)} requests${span}.` },
    ...(notes.length > 0 ? [{ type: 'list', items: notes } as const] : []),
    totals(report),
    ...overTime(report.breakdowns.hour),
    ...report.policies.flatMap(policyBlocks),
    ...DIMENSIONS.filter((dimension) => dimension !== 'hour').flatMap((dimension) =>
      breakdownBlocks(dimension, report.breakdowns[dimension]),
    ),
  ];
}

function totals({ requests, verdicts, uncovered }: Report): Block {
  const words = VERDICTS.filter((name) => name === 'allow' || name === 'block' || verdicts[name] > 0);
  const rows = [
    ...words.map((name) => [name, count(verdicts[name]), share(verdicts[name], requests)]),
    ['uncovered', count(uncovered), share(uncovered, requests)],
  ];
  return { type: 'table', columns: [left('verdict'), right('requests'), right('share')], rows };
}

function overTime({ rows }: Breakdown): Block[] {
  const timed = rows.filter(({ key }) => key !== null);
  if (timed.length < 2) return [];
  const byDay = timed.length > MOST_HOURS;
  const bars = new Map<string, Bar>();
  for (const row of timed) {
    const label = byDay ? (row.key as string).slice(0, 10) : clock(row.key as string);
    const known = bars.get(label) ?? { label, allowed: 0, stopped: 0, uncovered: 0 };
    bars.set(label, {
      label,
      allowed: known.allowed + row.allow,
      stopped: known.stopped + row.requests - row.allow - row.uncovered,
      uncovered: known.uncovered + row.uncovered,
    });
  }
  return [
    { type: 'heading', level: 2, text: byDay ? 'By day' : 'By hour' },
    { type: 'bars', label: byDay ? 'day' : 'hour', bars: [...bars.values()] },
  ];
}

const ROLES = ['arrived', 'decided', 'tagged', 'observed', 'overtaken', 'blind'] as const;

function policyBlocks(policy: PolicyReport): Block[] {
  const stance = policy.stance === 'enforce' ? '' : ` (${policy.stance})`;
  const rows = policy.rules.map((rule) => [
    rule.rule,
    rule.sentence,
    rule.stance === 'enforce' ? '' : rule.stance,
    ...ROLES.map((role) => figure(rule[role])),
  ]);
  const { sentence, arrived, decided } = policy.default;
  const last = [
    'default',
    sentence,
    '',
    ...ROLES.map((role) => (role === 'arrived' ? figure(arrived) : role === 'decided' ? figure(decided) : '')),
  ];
  const columns = [left('rule'), left('what it does'), left('stance'), ...ROLES.map(right)];
  const remarks = policy.remarks.map(({ text }) => text);
  const allowed = policy.verdicts.allow;
  return [
    { type: 'heading', level: 2, text: `Policy ${policy.policy}${stance}` },
    {
      type: 'text',
      text: `${count(policy.requests)} requests, ${count(allowed)} allowed, ${count(policy.requests - allowed)} not.`,
    },
    { type: 'table', columns, rows: [...rows, last] },
    ...(remarks.length > 0 ? [{ type: 'list', items: remarks } as const] : []),
  ];
}

const TITLES: Readonly<Record<Dimension, string>> = {
  ...{ country: 'By country', client: 'By client', host: 'By host', category: 'By category', method: 'By method' },
  'destination-country': 'By country of the destination',
  ...{ application: 'By application', status: 'By status, as it was answered then', hour: 'By hour' },
};

function breakdownBlocks(dimension: Dimension, { rows, more }: Breakdown): Block[] {
  // Most logs say nothing of destinations.
  if (rows.every(({ key }) => key === null) && dimension === 'destination-country') return [];
  if (rows.length === 0) return [];
  const words = VERDICTS.filter(
    (name: Verdict) => name === 'allow' || name === 'block' || rows.some((row) => row[name] > 0),
  );
  const columns = [left(dimension), right('requests'), ...words.map(right), right('uncovered')];
  const cells = (row: Share) => [
    row.key ?? 'unseen',
    count(row.requests),
    ...words.map((name) => figure(row[name])),
    figure(row.uncovered),
  ];
  const shown = rows.slice(0, ROWS_SHOWN);
  const others = rows.length - shown.length + more;
  return [
    { type: 'heading', level: 2, text: TITLES[dimension] },
    { type: 'table', columns, rows: shown.map(cells) },
    ...(others > 0 ? [{ type: 'text', text: `And ${count(others)} more.` } as const] : []),
  ];
}

const left = (title: string): Column => ({ title, align: 'left' });
const right = (title: string): Column => ({ title, align: 'right' });
const count = (value: number): string => value.toLocaleString('en');
const figure = (value: number): string => (value === 0 ? '·' : count(value));
const share = (part: number, whole: number): string => `${whole === 0 ? '0.0' : ((part / whole) * 100).toFixed(1)} %`;
/** 2026-11-09 07:31 */
const clock = (time: string): string => time.slice(0, 16).replace('T', ' ');
