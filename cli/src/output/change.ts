import type { ChangeBody, DifferenceBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { indent, table } from './table.js';
import type { Paint } from './terminal.js';

/** Which objects changed, and how. */
export function formatChangedObjects(changes: readonly ChangeBody[], paint: Paint): string {
  const rows = changes
    .filter(({ change }) => change !== 'unchanged')
    .map(({ kind, name, change }) => [change, kind, name]);
  const same = changes.length - rows.length;
  if (rows.length === 0) return 'Nothing has changed.';
  const columns = ['change', 'kind', 'name'].map((title) => ({ title }));
  return `${table(columns, rows, paint)}\n\n${rows.length} changed${same > 0 ? `, ${same} unchanged` : ''}.`;
}

const changedPhrase = (objects: number): string =>
  objects === 0
    ? 'the country data changed, and no object'
    : objects === 1
      ? 'one object changed'
      : `${objects} objects changed`;

const MARKS = { added: '+', changed: '~', removed: '−' } as const;

/** What two states do not have alike, in words; with `text`, also the lines that differ. */
export function formatDifference(difference: DifferenceBody, text: boolean, paint: Paint): string {
  const { from, to, changes, countryData } = difference;
  if (changes.length === 0 && countryData === null) return `Nothing is different between ${from} and ${to}.`;
  const shown = changes.map(({ kind, name, change, words, by, at, text: lines }) => {
    const colour = { added: paint.green, changed: paint.yellow, removed: paint.red }[change];
    const who = change === 'removed' || by === null ? '' : paint.dim(`  by ${safe(by)}, ${clock(at)}`);
    const what = words.length > 0 ? words : ['only its comments, or the way that it is written'];
    const head = `${colour(MARKS[change])} ${paint.bold(`${kind} ${name}`)} ${change}${who}`;
    const patch = text ? [`\n${formatPatch(lines, paint)}`] : [];
    return [head, ...what.map((each) => indent(safe(each), '    ')), ...patch].join('\n');
  });
  return [
    `From ${from} to ${to}: ${changedPhrase(changes.length)}.`,
    ...shown,
    ...(countryData === null ? [] : [safe(countryData)]),
  ].join('\n\n');
}

function formatPatch(lines: string | null, paint: Paint): string {
  if (lines === null) return indent('Too much differs to show it line by line.', '    ');
  const coloured = lines
    .trimEnd()
    .split('\n')
    .map((line) =>
      line.startsWith('+') ? paint.green(safe(line)) : line.startsWith('-') ? paint.red(safe(line)) : safe(line),
    );
  return indent(coloured.join('\n'), '    ');
}

export const clock = (time: string | null): string => (time === null ? '–' : time.slice(0, 16).replace('T', ' '));
