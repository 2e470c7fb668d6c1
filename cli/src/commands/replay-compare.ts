import type { ReplayBody } from '@jade-fence/contract';
import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { Option } from 'commander';
import { newestReplays, type WhichReplay } from '../actions/chosen-replay.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatChanges, formatComparison } from '../output/comparison.js';
import { examples, type Register, wholeNumber } from './command.js';
import { type RedactGiven, withRedact } from './redact-option.js';
import { replayNumber, withLogOfReplay } from './replay-option.js';

interface Given extends RedactGiven, Pick<WhichReplay, 'log'> {
  readonly requests?: boolean;
  readonly was?: Verdict | 'uncovered';
  readonly is?: Verdict | 'uncovered';
  readonly policy?: string;
  readonly rule?: string;
  readonly country?: string;
  readonly destinationCountry?: string;
  readonly after?: number;
  readonly limit: number;
}

const MOST_LOOKED_AT = 500;

const verdict = (flags: string, description: string) =>
  new Option(`${flags} <verdict>`, description).choices([...VERDICTS, 'uncovered']);

export const registerReplayCompare: Register = (program, act) => {
  withLogOfReplay(withRedact(noun(program, 'replay').command('compare')))
    .summary('what changed between two replays of a log')
    .description(
      'Compares two replays of one log, request by request: which verdicts changed, from what to what, and which rules ' +
        'decided before and after. Without numbers, the newest replay that you ran, with the one before it of the same log.',
    )
    .argument('[before]', 'the number of the replay before', replayNumber)
    .argument('[after]', 'the number of the replay after', replayNumber)
    .option('--requests', 'list the requests that changed')
    .addOption(verdict('--was', 'those with this verdict before; lists them'))
    .addOption(verdict('--is', 'those with this verdict after; lists them'))
    .option('--policy <name>', 'those that this policy decided, before or after; lists them')
    .option('--rule <name>', 'those that this rule decided, before or after; lists them')
    .option('--country <code>', 'those of clients in this country, `private`, `unknown` or `unseen`; lists them')
    .option('--destination-country <code>', 'the same of their destination; lists them')
    .option('--after <number>', 'go on after this request', wholeNumber(0, 2 ** 31 - 1))
    .option('--limit <count>', 'how many to list, up to 1,000', wholeNumber(1, 1000), 20)
    .addHelpText(
      'after',
      examples(
        'jade-fence replay compare',
        'jade-fence replay compare 3 5',
        'jade-fence replay compare --was allow --is block --limit 100',
      ),
    )
    .action(
      act(async (context, before: number | undefined, after: number | undefined, given: Given) => {
        const { requests, limit, redact, log, ...filter } = given;
        const ids = await chosenPair(context, { before, after, log });
        const lists = requests === true || Object.values(filter).some((value) => value !== undefined);
        const params = { id: ids.after };
        const both = { with: ids.before };
        if (!lists) {
          const body = await context.client.call('GET /replays/:id/comparison', { params, query: both });
          context.show(body, (answer) => formatComparison(answer, context.terminal.paint));
          return undefined;
        }
        const page = await context.client.call('GET /replays/:id/comparison/requests', {
          params,
          query: { ...both, limit, redact, ...filter },
        });
        context.show({ ...ids, ...page }, (answer) => formatChanges(answer, context.terminal));
        return undefined;
      }),
    );
};

interface Pair {
  readonly before: number;
  readonly after: number;
}

/** The replays with the numbers; else the newest of the log or the caller, and the one before it of the same requests. */
async function chosenPair(
  context: Context,
  { before, after, log }: { readonly [key in keyof Pair]: Pair[key] | undefined } & Pick<WhichReplay, 'log'>,
): Promise<Pair> {
  if (before !== undefined && after !== undefined) return { before, after };
  const [newest] = await newestReplays(context, { log }, 1);
  if (newest && before !== undefined) return { before, after: newest.id };
  const requests = ({ logs, only }: ReplayBody) => JSON.stringify([logs, only]);
  const same = newest?.log ? await newestReplays(context, { log: newest.log }, MOST_LOOKED_AT) : [];
  const older = same.find((each) => newest && each.id < newest.id && requests(each) === requests(newest));
  if (newest && older) return { before: older.id, after: newest.id };
  throw failure(EXIT.refused, 'no-replays', { log: newest?.log ?? undefined });
}
