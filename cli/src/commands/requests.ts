import type { FilterQuery } from '@jade-fence/contract';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { formatOf } from '../output/of-replay.js';
import { formatRequests } from '../output/requests.js';
import { examples, type Register, wholeNumber } from './command.js';
import { withFilter } from './filter-options.js';
import { withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends FilterQuery, WhichReplay {
  readonly after?: number;
  readonly limit: number;
}

export const registerRequests: Register = (program, act) => {
  withReplay(withRedact(withFilter(program.command('requests'))))
    .summary('the requests of a replay: by rule, verdict, country, client, host, time …')
    .description(
      'Lists requests of a replay with their outcome. `unseen` selects those that do not show a field. Explain ' +
        'one with `jade-fence explain --request NUMBER`.',
    )
    .option('--after <number>', 'go on after this request', wholeNumber(0, 2 ** 31 - 1))
    .option('--limit <count>', 'how many to show, up to 1,000', wholeNumber(1, 1000), 20)
    .addHelpText(
      'after',
      examples(
        'jade-fence requests --rule no-harvesters',
        'jade-fence requests --rule no-wagering --role overtaken',
        'jade-fence requests --verdict block --country XM --limit 100 --json',
        'jade-fence requests --client 198.18.96.0/24 --status 2xx --from 2026-11-12T00:00:00Z',
      ),
    )
    .action(
      act(async (context, { replay: id, log, ...query }: Given) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const page = await context.client.call('GET /replays/:id/requests', {
          params: { id: replay.id },
          query: { ...query },
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
