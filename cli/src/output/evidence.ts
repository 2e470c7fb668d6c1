import type { EvidenceBody, SumBody } from '@jade-fence/contract';
import { EVIDENCE_DIMENSIONS, type EvidenceShare, type LimitReport } from '@jade-fence/core/replay';
import { formatOf } from './of-replay.js';
import { formatRequests } from './requests.js';
import { safe } from './safe.js';
import { beside, count, counted, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';

const LONGEST_KEY = 44;
const BAR = 30;

/** What the requests of one rule are, for people. */
export function formatEvidence(body: EvidenceBody, { paint, columns: width }: Terminal): string {
  const { of, policy, rule, role, requests, shares, samples } = body;
  const stance = rule.stance === 'enforce' ? '' : ` (${rule.stance})`;
  const head = `${paint.bold(`${policy} / ${rule.rule}`)}${stance}: ${rule.sentence}`;
  const arrived = `${count(requests)} requests ${role}; ${count(rule.arrived)} arrive at the rule.`;
  return [
    `${head}\n${formatOf(of)}\n${arrived}`,
    ...blindness(body, paint),
    ...(rule.limit ? [formatCurve(rule.limit, paint)] : []),
    ...formatShares({ requests, shares, samples }, { paint, columns: width }),
  ].join('\n\n');
}

/** What the requests are that a filter selects, for people. */
export function formatSum(body: SumBody, terminal: Terminal): string {
  const { of, requests, isPart } = body;
  if (requests === 0) return `${formatOf(of)}\nNo request of it is like that.`;
  const rest = isPart ? '; there are more, which are not counted' : '';
  return [`${formatOf(of)}\n${counted(requests, 'request', 'requests')}${rest}.`, ...formatShares(body, terminal)].join(
    '\n\n',
  );
}

/** The most frequent values by each dimension, two dimensions beside each other, and some of the requests. */
function formatShares(
  { requests, shares, samples }: Pick<SumBody, 'requests' | 'shares' | 'samples'>,
  { paint, columns }: Pick<Terminal, 'paint' | 'columns'>,
): string[] {
  if (requests === 0) return [];
  const tables = EVIDENCE_DIMENSIONS.map((each) => formatShare(each, shares[each], requests, paint));
  const pairs = tables.flatMap((left, at) => {
    if (at % 2 === 1) return [];
    const right = tables[at + 1];
    return [right === undefined ? left : beside(left, right, columns)];
  });
  const some = indent(formatRequests(samples, { paint, columns: columns - 2 }), '  ');
  return [...pairs, ...(samples.length > 0 ? [`Some that differ:\n${some}`] : [])];
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
