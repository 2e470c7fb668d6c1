import type { ChangedBody, ChangesPage, ComparisonBody, OfBoth } from '@jade-fence/contract';
import type { Decided } from '@jade-fence/core/replay';
import { logsOf, stateOf } from './of-replay.js';
import { formatRequests } from './requests.js';
import { count, indent, share, table } from './table.js';
import type { Paint, Terminal } from './terminal.js';
import { verdictWord } from './verdict.js';

const CAUSES_LISTED = 30;

/** What changed between two replays, for people. */
export function formatComparison(body: ComparisonBody, paint: Paint): string {
  const { of, requests, changed, decidedElsewhere, changes, causes } = body;
  const head = `${formatBoth(of, paint)}\n${count(changed)} of ${count(requests)} requests have another verdict`;
  const elsewhere =
    decidedElsewhere === 0
      ? []
      : [`${paint.dim('·')} ${count(decidedElsewhere)} keep their verdict, and another rule gives it.`];
  if (changed === 0) return [`${head}.`, ...elsewhere].join('\n');
  const right = (title: string) => ({ title, align: 'right' as const });
  const byVerdict = changes.map((each) => [
    verdictWord(each.was, paint),
    verdictWord(each.is, paint),
    count(each.requests),
    share(each.requests, requests),
  ]);
  const byCause = causes
    .slice(0, CAUSES_LISTED)
    .map((each) => [
      verdictWord(each.before.verdict, paint),
      by(each.before),
      verdictWord(each.after.verdict, paint),
      by(each.after),
      count(each.requests),
      each.samples.map((number) => `#${number}`).join(' '),
    ]);
  const rest = causes.length - byCause.length;
  return [
    `${head}.`,
    indent(table([{ title: 'was' }, { title: 'is' }, right('requests'), right('share')], byVerdict, paint), '  '),
    indent(
      table(
        [{ title: 'was' }, { title: 'by' }, { title: 'is' }, { title: 'by' }, right('requests'), { title: 'such as' }],
        byCause,
        paint,
      ) + (rest > 0 ? paint.dim(`\n… and ${count(rest)} more`) : ''),
      '  ',
    ),
    ...elsewhere,
  ].join('\n\n');
}

/** The requests that changed, one a line. */
export function formatChanges({ of, requests, next }: ChangesPage, terminal: Terminal): string {
  const head = formatBoth(of, terminal.paint);
  if (requests.length === 0) return `${head}\nNo request changed like that.`;
  const more = next === null ? '' : `\n\nMore: --after ${next}`;
  // Names the policy once when it is the same before and after.
  const wasBy = ({ before, policy }: ChangedBody) =>
    before.policy === policy ? (before.rule ?? 'default') : by(before);
  const was = (each: ChangedBody) => [verdictWord(each.before.verdict, terminal.paint), wasBy(each)];
  return `${head}\n\n${formatRequests(requests, terminal, { titles: ['was', 'by'], cells: was })}${more}`;
}

const formatBoth = ({ before, after }: OfBoth, paint: Paint): string =>
  `${paint.bold(`Replay ${after.id} against replay ${before.id}`)} of ${logsOf(after)}, by ${stateOf(after)} against ${stateOf(before)}.${
    before.resolutions === after.resolutions ? '' : ' Other addresses of hosts were known, too.'
  }`;

const by = ({ policy, rule }: Decided): string => (policy === null ? '–' : `${policy} / ${rule ?? 'default'}`);
