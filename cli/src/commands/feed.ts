import type { FeedBody } from '@jade-fence/contract';
import { LIST_SORTS, type ListSort } from '@jade-fence/core/list';
import { InvalidArgumentError, Option } from 'commander';
import { noun } from '../nouns.js';
import { clock } from '../output/change.js';
import { safe } from '../output/safe.js';
import { count, counted, table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface Given {
  readonly of: ListSort;
  readonly source: string;
  readonly every?: number;
  readonly allowPrivate?: boolean;
  readonly publish?: boolean;
}

/** Reads a span such as 15m, 6h or 1d as seconds. */
function seconds(text: string): number {
  const found = /^(\d{1,4})([mhd])$/.exec(text);
  if (!found) throw new InvalidArgumentError('It is a span such as 15m, 6h or 1d.');
  return Number(found[1]) * { m: 60, h: 3600, d: 86_400 }[found[2] as 'm' | 'h' | 'd'];
}

export const registerFeed: Register = (program, act) => {
  const feed = noun(program, 'feed').description(
    'A list with a feed follows a text file that others maintain, one entry a line. Changes go into the draft; when the file cannot be fetched or is invalid, the list stays unchanged, and the feed says why.',
  );

  feed
    .command('set')
    .summary('have a list fetched')
    .argument('<list>', 'the list; it is made where there is none of that name')
    .requiredOption('--source <source>', 'an address of the web, or `file:` and a name in the folder of feeds')
    .addOption(new Option('--of <sort>', 'what the entries are').choices(LIST_SORTS).makeOptionMandatory())
    .option('--every <span>', 'how often to look, such as 15m, 6h or 1d (default: 1h)', seconds)
    .option('--publish', 'publish what changed by itself, with nothing else of the draft')
    .option('--allow-private', 'let the source be in private address space')
    .addHelpText(
      'after',
      examples(
        'jade-fence feed set advert-hosts --of domains --source https://lists.hedgerow.example/adverts.txt --every 6h',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, list: string, { source, of, every, allowPrivate, publish }: Given) => {
        const body = { of, source, every, allowPrivate, publish };
        await client.call('PUT /feeds/:list', { params: { list }, body });
        show(await client.call('POST /feeds/:list/refresh', { params: { list } }), (shown) =>
          formatFeed(shown, terminal.paint),
        );
        return undefined;
      }),
    );

  feed
    .command('list')
    .summary('where lists are fetched from, and what the last try came to')
    .action(
      act(async ({ client, show, terminal }) => {
        show(await client.all('GET /feeds'), ({ feeds, folder }) =>
          feeds.length === 0
            ? `No list is fetched. Files of feeds go into ${folder}.`
            : formatFeeds(feeds, terminal.paint),
        );
        return undefined;
      }),
    );

  feed
    .command('refresh')
    .summary('fetch a list now')
    .argument('<list>', 'the list')
    .action(
      act(async ({ client, show, terminal }, list: string) => {
        show(await client.call('POST /feeds/:list/refresh', { params: { list } }), (shown) =>
          formatFeed(shown, terminal.paint),
        );
        return undefined;
      }),
    );

  feed
    .command('remove')
    .summary('fetch a list no more; it keeps what it holds')
    .argument('<list>', 'the list')
    .action(
      act(async ({ client, show }, list: string) => {
        await client.call('DELETE /feeds/:list', { params: { list } });
        show({ removed: list }, () => `${list} is fetched no more.`);
        return undefined;
      }),
    );
};

function formatFeeds(feeds: readonly FeedBody[], paint: Paint): string {
  const columns = ['list', 'from', 'last try', 'came to', 'last good'].map((title) => ({ title }));
  const time = (at: string | null | undefined) => (at ? clock(at) : '·');
  const rows = feeds.map((feed) => [
    feed.list,
    safe(feed.source),
    time(feed.last?.at),
    safe(outcomeWords(feed)),
    time(feed.goodAt),
  ]);
  return table(columns, rows, paint);
}

function formatFeed(feed: FeedBody, paint: Paint): string {
  return [
    `${paint.bold(feed.list)} from ${safe(feed.source)}: ${outcomeWords(feed)}`,
    ...(feed.last?.left ? [`  ${counted(feed.last.left, 'invalid line was', 'invalid lines were')} skipped.`] : []),
    ...(feed.last?.what ? [`  ${safe(feed.last.what)}`] : []),
    ...(feed.last?.outcome === 'failed' && feed.goodAt ? [`  It holds what was fetched ${clock(feed.goodAt)}.`] : []),
  ].join('\n');
}

function outcomeWords({ last }: FeedBody): string {
  if (last === null) return 'not fetched yet';
  const published = last.revision === null ? '' : `, published as revision ${last.revision}`;
  return last.outcome === 'changed'
    ? `${count(last.added)} added, ${count(last.removed)} removed${published}`
    : last.outcome;
}
