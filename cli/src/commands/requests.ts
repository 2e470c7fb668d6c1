import { SIDE_ROLES, VERDICTS } from '@jade-fence/core';
import type { RequestsPage } from '@jade-fence/service/bodies';
import { Option } from 'commander';
import { chosenReplay } from '../actions/run-replay.js';
import { formatRequests } from '../output/requests.js';
import { examples, type Register, wholeNumber } from './command.js';
import { replayNumber } from './replay.js';

interface Given {
  readonly replay?: number;
  readonly rule?: string;
  readonly policy?: string;
  readonly role?: string;
  readonly verdict?: string;
  readonly country?: string;
  readonly client?: string;
  readonly host?: string;
  readonly path?: string;
  readonly method?: string;
  readonly status?: string;
  readonly category?: string;
  readonly application?: string;
  readonly from?: string;
  readonly to?: string;
  readonly after?: number;
  readonly limit: number;
}

export const registerRequests: Register = (program, act) => {
  program
    .command('requests')
    .summary('the requests of a replay: by rule, verdict, country, client, host, time …')
    .description(
      'Lists requests of a replay with what became of them. `unseen` asks for those that do not show a field. Explain ' +
        'one with `jade-fence explain --request NUMBER`.',
    )
    .option('--replay <number>', 'the replay (default: the newest)', replayNumber)
    .option('--rule <name>', 'those of this rule; `default` for those that no rule decided')
    .addOption(
      new Option('--role <role>', 'what the rule did with them (default: decided)').choices(['decided', ...SIDE_ROLES]),
    )
    .option('--policy <name>', 'those that this policy judged')
    .addOption(new Option('--verdict <verdict>', 'those with this verdict').choices([...VERDICTS, 'uncovered']))
    .option('--country <code>', 'those from there; also `private`, `unknown`, `unseen`')
    .option('--client <addresses>', 'those of this client: an address, a network or a range')
    .option('--host <host>', 'those to this host; `.name` for all under it too')
    .option('--path <path>', 'those to paths like this, as in rules')
    .option('--method <method>', 'those with this method')
    .option('--status <status>', 'those answered so at the time, by the log; also `4xx`')
    .option('--category <name>', 'those in this category; also `uncategorised`')
    .option('--application <name>', 'those of this application; also `unidentified`')
    .option('--from <time>', 'those from this time on')
    .option('--to <time>', 'those before this time')
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
      act(async (context, { replay: id, ...query }: Given) => {
        const replay = await chosenReplay(context, id);
        const page = await context.client.get<RequestsPage>(`/api/replays/${replay.id}/requests`, { ...query });
        context.show({ replay: replay.id, ...page }, ({ requests, next }) => {
          if (requests.length === 0) return `No request of replay ${replay.id} is like that.`;
          const more = next === null ? '' : `\n\nMore: --after ${next}`;
          return formatRequests(requests, context.terminal.paint) + more;
        });
        return undefined;
      }),
    );
};
