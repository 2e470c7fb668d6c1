import { readFileSync } from 'node:fs';
import type { EntriesChanged, EntriesImported, EntriesPage, EntryBody } from '@jade-fence/contract';
import type { Met, Overlap } from '@jade-fence/core/list';
import { LIST_SORTS, type ListSort } from '@jade-fence/core/list';
import { Option } from 'commander';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import type { Client } from '../client/client.js';
import { unreadable } from '../client/workspace-files.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { safe } from '../output/safe.js';
import { count, counted, indent, table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register, wholeNumber } from './command.js';

interface ShowGiven {
  readonly search?: string;
  readonly after?: number;
  readonly limit?: number;
}

interface AddGiven {
  readonly note?: string;
  readonly until?: string;
}

interface SetGiven extends AddGiven {
  readonly to?: string;
}

interface ImportGiven extends YesGiven {
  readonly of: ListSort;
  readonly skip?: boolean;
}

export const registerEntry: Register = (program, act) => {
  const entries = noun(program, 'entry').description(
    'Works on one entry or many without touching a rule, and without opening the list as a whole.',
  );

  entries
    .command('list')
    .summary('the entries of a list, or those that a text is in')
    .argument('<list>', 'the list')
    .option('--search <text>', 'only entries with this text in them or their note')
    .option('--after <number>', 'entries behind this one', wholeNumber(0, 2 ** 31 - 1))
    .option('--limit <number>', 'at most this many (default: 100)', wholeNumber(1, 1000))
    .addHelpText(
      'after',
      examples('jade-fence entry list home-workers', 'jade-fence entry list advert-hosts --search track'),
    )
    .action(
      act(async ({ client, show, terminal }, list: string, query: ShowGiven) => {
        const page = await client.call('GET /lists/:name/entries', { params: { name: list }, query });
        show(page, (answer) => formatEntries(answer, terminal.paint));
        return undefined;
      }),
    );

  entries
    .command('add')
    .summary('add entries to a list of the draft')
    .argument('<list>', 'the list')
    .argument('<entries...>', 'the entries')
    .option('--note <text>', 'what to remember of them')
    .option('--until <time>', 'until when they count')
    .addHelpText(
      'after',
      examples('jade-fence entry add home-workers 203.0.113.77 --note "visiting botanist" --until 2026-12-01'),
    )
    .action(
      act(async ({ client, show }, list: string, some: readonly string[], { note, until }: AddGiven) => {
        const add = some.map((entry) => ({
          entry,
          ...(note !== undefined && { note }),
          ...(until !== undefined && { until }),
        }));
        show(await client.call('PATCH /lists/:name/entries', { params: { name: list }, body: { add } }), formatChanged);
        return undefined;
      }),
    );

  entries
    .command('set')
    .summary('change one entry of a list of the draft, in one step')
    .description('Changes what is given, and keeps the rest of the entry.')
    .argument('<list>', 'the list')
    .argument('<entry>', 'the entry, as it is written there')
    .option('--to <entry>', 'what it becomes')
    .option('--note <text>', 'what to remember of it; an empty text removes the note')
    .option('--until <time>', 'until when it counts; `always` for no end')
    .addHelpText(
      'after',
      examples(
        'jade-fence entry set home-workers 203.0.113.77 --until 2027-06-01',
        'jade-fence entry set home-workers 203.0.113.77 --to 203.0.113.78',
      ),
    )
    .action(
      act(async ({ client, show }, list: string, entry: string, given: SetGiven) => {
        if (Object.keys(given).length === 0) throw failure(EXIT.usage, 'no-change-of-entry');
        const before = await entryOf(client, list, entry);
        const note = given.note ?? before.note;
        const until = given.until ?? before.until;
        const changed = {
          entry: given.to ?? entry,
          ...(note !== null && note !== '' && { note }),
          ...(until !== null && until !== 'always' && { until }),
        };
        const body = { add: [changed], remove: [entry] };
        const answer = await client.call('PATCH /lists/:name/entries', { params: { name: list }, body });
        const done = answer.present.length > 0 ? 'Removed' : 'Changed';
        show(answer, () => `${done} ${safe(entry)}. ${formatChanged(answer)}`);
        return undefined;
      }),
    );

  entries
    .command('remove')
    .summary('remove entries from a list of the draft')
    .argument('<list>', 'the list')
    .argument('<entries...>', 'the entries, as they are written there')
    .action(
      act(async ({ client, show }, list: string, remove: readonly string[]) => {
        show(
          await client.call('PATCH /lists/:name/entries', { params: { name: list }, body: { remove } }),
          formatChanged,
        );
        return undefined;
      }),
    );

  withYes(entries.command('import'))
    .summary('make a list of a file with one entry a line')
    .description(
      'Takes a text file with one entry a line, and behind a `#` a note, in place of the list’s entries. An invalid line stops it, unless such lines are to be skipped; each is listed with its number.',
    )
    .argument('<list>', 'the list; it is made where there is none of that name')
    .argument('<file>', 'the file')
    .addOption(new Option('--of <sort>', 'what the entries are').choices(LIST_SORTS).makeOptionMandatory())
    .option('--skip', 'skip invalid lines')
    .addHelpText('after', examples('jade-fence entry import advert-hosts hosts.txt --of domains --skip'))
    .action(
      act(async (context, list: string, file: string, { of, skip, yes }: ImportGiven) => {
        const { client, show } = context;
        const bytes = readBytes(file);
        const known = (await client.call('GET /workspace')).lists.find((each) => each.list === list);
        if (known && known.entries > 0) {
          const consequence = [
            `What list ${list} holds, ${counted(known.entries, 'entry', 'entries')}, would be replaced by the file.`,
          ];
          await requireConfirmed(context, yes, { consequence, question: 'Replace them?' });
        }
        const carried = { params: { name: list }, query: { of, skip } };
        show(await client.send('PUT /lists/:name/entries', bytes, carried), formatImported);
        return undefined;
      }),
    );

  entries
    .command('overlap')
    .summary('what a list says twice, or that another list says too')
    .argument('<list>', 'the list')
    .argument('[other]', 'another list of the same sort')
    .addHelpText(
      'after',
      examples('jade-fence entry overlap garden-offices', 'jade-fence entry overlap advert-hosts wagering-sites'),
    )
    .action(
      act(async ({ client, show, terminal }, list: string, other: string | undefined) => {
        const overlap = await client.call('GET /lists/:name/overlap', {
          params: { name: list },
          query: { with: other },
        });
        show(overlap, (answer) => formatOverlap(answer, other, terminal.paint));
        return undefined;
      }),
    );
};

/** An entry as it is written, which may be a part of many others. */
async function entryOf(client: Client, list: string, entry: string): Promise<EntryBody> {
  for (let after: number | undefined; ; ) {
    const query = { search: entry, after, limit: 1000 };
    const { entries, next } = await client.call('GET /lists/:name/entries', { params: { name: list }, query });
    const found = entries.find((each) => each.entry === entry);
    if (found) return found;
    if (next === null) throw failure(EXIT.refused, 'no-such-entry', { list, entry });
    after = next;
  }
}

function readBytes(file: string): Uint8Array<ArrayBuffer> {
  try {
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    throw unreadable(file, error as NodeJS.ErrnoException);
  }
}

function formatEntries({ entries, next }: EntriesPage, paint: Paint): string {
  if (entries.length === 0) return 'No entry is like that.';
  const columns = [{ title: '#', align: 'right' as const }, ...['entry', 'until', 'note'].map((title) => ({ title }))];
  const until = ({ until: end, expired }: EntryBody) =>
    end === null ? '·' : `${clock(end)}${expired ? ', expired' : ''}`;
  const rows = entries.map((each) => [String(each.number), safe(each.entry), until(each), safe(each.note ?? '')]);
  return table(columns, rows, paint) + (next === null ? '' : `\n\nMore: --after ${next}`);
}

function formatChanged({ list, entries, present, missing }: EntriesChanged): string {
  return [
    `${list} has ${counted(entries, 'entry', 'entries')}.`,
    ...(present.length > 0 ? [`There already: ${present.map(safe).join(', ')}.`] : []),
    ...(missing.length > 0 ? [`Not there: ${missing.map(safe).join(', ')}.`] : []),
  ].join('\n');
}

function formatImported({ list, entries, left, leftCount }: EntriesImported): string {
  const more = leftCount - left.length;
  return [
    `${list} has ${counted(entries, 'entry', 'entries')}.`,
    ...(leftCount > 0
      ? [leftCount === 1 ? 'Skipped 1 invalid line:' : `Skipped ${count(leftCount)} invalid lines.`]
      : []),
    ...left.map(({ line, what }) => `  line ${line}: ${safe(what)}`),
    ...(more > 0 ? [`  and ${count(more)} more`] : []),
  ].join('\n');
}

function formatOverlap({ duplicates, covered, common }: Overlap, other: string | undefined, paint: Paint): string {
  return [
    formatMet('There twice', 'is', duplicates, paint),
    formatMet('Covered by a wider entry', 'is in', covered, paint),
    ...(common ? [formatMet(`In ${other} too`, 'there', common, paint)] : []),
  ].join('\n\n');
}

function formatMet(title: string, word: string, { count: many, some }: Met, paint: Paint): string {
  const head = `${paint.bold(title)}: ${many === 0 ? 'none' : count(many)}`;
  const rows = some.map(({ entry, by }) => [safe(entry), paint.dim(word), safe(by)]);
  const more = many > some.length ? `\n  and ${count(many - some.length)} more` : '';
  return rows.length === 0
    ? head
    : `${head}\n${indent(table([{ title: '' }, { title: '' }, { title: '' }], rows, paint).replace(/^\s*\n/, ''), '  ')}${more}`;
}
