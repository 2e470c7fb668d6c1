import type { FilterQuery } from '@jade-fence/contract';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { noun } from '../nouns.js';
import { formatSum } from '../output/evidence.js';
import { examples, type Register } from './command.js';
import { withFilter } from './filter-options.js';
import { withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends FilterQuery, WhichReplay {}

export const registerRequestSum: Register = (program, act) => {
  withReplay(withRedact(withFilter(noun(program, 'request').command('sum'))))
    .summary('who the requests of a replay are from, where they go, and what became of them')
    .description(
      'Counts requests of a replay by client, host, path, status and so on, as the filter selects them, and shows some ' +
        'that differ from each other. What was let through then and is stopped now: --status 2xx --verdict block.',
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence request sum --status 2xx --verdict block',
        'jade-fence request sum --client 198.18.96.0/24 --category media',
      ),
    )
    .action(
      act(async (context, { replay: id, log, ...query }: Given) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const sum = await context.client.call('GET /replays/:id/sum', { params: { id: replay.id }, query });
        context.show(sum, (shown) => formatSum(shown, context.terminal));
        return undefined;
      }),
    );
};
