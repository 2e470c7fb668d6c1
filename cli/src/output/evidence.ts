import type { EvidenceBody } from '@jade-fence/contract';
import { EVIDENCE_DIMENSIONS, type EvidenceShare, type LimitReport } from '@jade-fence/core/replay';
import { formatOf } from './of-replay.js';
import { formatRequests } from './requests.js';
import { safe } from './safe.js';
import { beside, count, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';

const LONGEST_KEY = 44;
const BAR = 30;

/** What the requests of one rule are, for people. */
export function formatEvidence(body: EvidenceBody, { paint, columns: width }: Terminal): string {
  const { of, policy, rule, role, requests, shares, samples } = body;
  const stance = rule.stance === 'enforce' ? '' : ` (${rule.stance})`;
  const head = `${paint.bold(`${policy} / ${rule.rule}`)}${stance}: ${rule.sentence}`;
  const arrived = `${count(requests)} requests ${role}; ${count(rule.arrived)} arrive at the rule.`;
  const tables = EVIDENCE_DIMENSIONS.map((dimension) => formatShare(dimension, shares[dimension], requests, paint));
  const pairs = [0, 2, 4].map((at) => beside(tables[at] ?? '', tables[at + 1] ?? '', width));
  return [
    `${head}\n${formatOf(of)}\n${arrived}`,
    ...blindness(body, paint),
    ...(rule.limit ? [formatCurve(rule.limit, paint)] : []),
    ...(requests > 0 ? pairs : []),
    ...(samples.length > 0
      ? [`Some that differ:\n${indent(formatRequests(samples, { paint, columns: width - 2 }), '  ')}`]
      : []),
  ].join('\n\n');
}

/** Which fields the log would have to show for the rule to be judged. */
function blindness({ rule }: EvidenceBody, paint: Paint): string[] {
  if (rule.blind === 0) return [];
  const all = (requests: number) => (requests === rule.blind ? '' : ` (${count(requests)})`);
  const fields = rule.unseen.map(({ field, requests }) => `the ${field}${all(requests)}`).join(', ');
  return [`${paint.yellow('!')} It could not be judged on ${count(rule.blind)} requests, which do not show ${fields}.`];
}

function formatShare(dimension: string, { rows, more }: EvidenceShare, requests: number, paint: Paint): string {
  const cells = rows.map((each) => [
    cut(safe(each.key ?? 'unseen')),
    count(each.requests),
    share(each.requests, requests),
  ]);
  const rest = more > 0 ? paint.dim(`\n… and ${count(more)} more`) : '';
  const right = (title: string) => ({ title, align: 'right' as const });
  return table([{ title: dimension }, right('requests'), right('share')], cells, paint) + rest;
}

/** How many keys would be over at each threshold; the one in force is marked. */
function formatCurve({ curve, counts, moreThan, within, uncounted }: LimitReport, paint: Paint): string {
  const most = Math.max(1, ...curve.map(({ keys }) => keys));
  const rows = curve.map((point) => [
    point.moreThan === moreThan ? paint.bold('▸') : '',
    count(point.moreThan),
    count(point.keys),
    paint.green('█'.repeat(Math.ceil((point.keys / most) * BAR))),
  ]);
  const columns = [
    { title: '' },
    { title: `more than … ${counts}`, align: 'right' as const },
    { title: 'keys over', align: 'right' as const },
    { title: '' },
  ];
  const partly = uncounted > 0 ? `\n${paint.yellow('!')} There were too many keys to keep; the curve is of some.` : '';
  return `Within ${count(within)} s, this many keys would be over; ▸ is the rule’s own threshold:\n${indent(table(columns, rows, paint), '  ')}${partly}`;
}

const cut = (text: string): string => (text.length > LONGEST_KEY ? `${text.slice(0, LONGEST_KEY - 1)}…` : text);
