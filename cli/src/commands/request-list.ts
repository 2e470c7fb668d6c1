import type { FilterQuery } from '@jade-fence/contract';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import type { Context } from '../context.js';
import { noun } from '../nouns.js';
import { formatOf } from '../output/of-replay.js';
import { formatRequests } from '../output/requests.js';
import { examples, type Register, wholeNumber } from './command.js';
import { withFilter } from './filter-options.js';
import { withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends FilterQuery, WhichReplay {
  readonly after?: number;
  readonly limit?: number;
  readonly jsonl?: boolean;
}

export const registerRequestList: Register = (program, act) => {
  withReplay(withRedact(withFilter(noun(program, 'request').command('list'))))
    .summary('the requests of a replay: by rule, verdict, country, client, host, time …')
    .description(
      'Lists requests of a replay with their outcome. `unseen` selects those that do not show a field. Explain ' +
        'one with `jade-fence request explain --request NUMBER`.',
    )
    .option('--after <number>', 'go on after this request', wholeNumber(0, 2 ** 31 - 1))
    .addOption(
      new Option('--limit <count>', 'how many to show, up to 1,000 (default: 20)').argParser(wholeNumber(1, 1000)),
    )
    .addOption(
      new Option('--jsonl', 'write all of them, a line of JSON each, as they come').conflicts(['limit', 'json']),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence request list --rule no-harvesters',
        'jade-fence request list --rule no-wagering --role overtaken',
        'jade-fence request list --verdict block --country XM --limit 100 --json',
        'jade-fence request list --rule no-harvesters --jsonl | head',
        'jade-fence request list --client 198.18.96.0/24 --status 2xx --from 2026-11-12T00:00:00Z',
      ),
    )
    .action(
      act(async (context, { replay: id, log, jsonl, limit = FEW, ...query }: Given) => {
        const replay = await chosenReplay(context, { replay: id, log });
        if (jsonl) {
          await writeAll(context, replay.id, query);
          return undefined;
        }
        const page = await context.client.call('GET /replays/:id/requests', {
          params: { id: replay.id },
          query: { ...query, limit },
        });
        context.show({ replay: replay.id, ...page }, ({ of, requests, next }) => {
          if (requests.length === 0) return `${formatOf(of)}\nNo request of it is like that.`;
          const more = next === null ? '' : `\n\nMore: --replay ${of.id} --after ${next}`;
          return `${formatOf(of)}\n\n${formatRequests(requests, context.terminal)}${more}`;
        });
        return undefined;
      }),
    );
};

const FEW = 20;
const MANY = 1000;

/** Writes requests as JSON Lines, page after page. */
async function writeAll(
  { client, terminal }: Context,
  id: number,
  query: Omit<Given, 'limit' | 'jsonl'>,
): Promise<void> {
  let after = query.after;
  do {
    const page = await client.call('GET /replays/:id/requests', {
      params: { id },
      query: { ...query, after, limit: MANY },
    });
    if (page.requests.length > 0) terminal.out(page.requests.map((each) => JSON.stringify(each)).join('\n'));
    after = page.next ?? undefined;
  } while (after !== undefined);
}
