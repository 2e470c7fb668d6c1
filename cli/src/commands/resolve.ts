import type { ResolveBody } from '@jade-fence/contract';
import { Option } from 'commander';
import { watchResolve } from '../actions/watch-resolve.js';
import { noun } from '../nouns.js';
import { clock } from '../output/report.js';
import { formatResolve } from '../output/resolutions.js';
import { safe } from '../output/safe.js';
import { count, table } from '../output/table.js';
import { examples, type Register, several, wholeNumber } from './command.js';

const resolveNumber = wholeNumber(1, 2 ** 31 - 1);

interface Given {
  readonly log?: string;
  readonly by?: 'dns' | 'log';
}

export const registerResolve: Register = (program, act) => {
  noun(program, 'resolve')
    .command('run')
    .summary('look up the addresses of hosts: of a log, or of those that are named')
    .description(
      'Asks the DNS servers of the settings for the hosts of a log that are not known, or not any more, those with most requests first. What is answered is in force at once. Cancel it with `jade-fence resolve cancel`.',
    )
    .argument('[hosts...]', 'hosts, in place of those of a log')
    .option('--log <log>', 'the log whose hosts to look up')
    .addOption(
      new Option('--by <source>', 'ask DNS servers, or take the addresses that the log itself shows')
        .choices(['dns', 'log'])
        .default('dns'),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence resolve run --log week',
        'jade-fence resolve run --log week --by log',
        'jade-fence resolve run www.visit-portugal.example',
      ),
    )
    .action(
      act(async (context, given: readonly string[], { log, by }: Given) => {
        const hosts = given.length > 0 ? [...new Set(given)] : undefined;
        const begun = await context.client.call('POST /resolves', { body: { log, hosts, by } });
        const ended = await watchResolve(context, begun);
        context.show(ended, () => formatResolve(ended, context.terminal.paint));
        return undefined;
      }),
    );

  const resolves = noun(program, 'resolve');
  resolves
    .command('cancel')
    .summary('cancel look-ups of hosts; what was answered is kept')
    .argument('<resolves...>', 'their numbers', several(resolveNumber))
    .addHelpText('after', examples('jade-fence resolve cancel 3'))
    .action(
      act(async ({ client, show }, numbers: readonly number[]) => {
        const ended: ResolveBody[] = [];
        for (const id of new Set(numbers))
          ended.push(await client.call('POST /resolves/:id/cancel', { params: { id } }));
        show({ resolves: ended }, () => ended.map(({ id, state }) => `Look-up ${id} is ${state}.`).join('\n'));
        return undefined;
      }),
    );
  resolves
    .command('list')
    .summary('all of them, the newest first')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /resolves');
        show(answer, ({ resolves: all }) =>
          all.length === 0
            ? 'No host has been looked up yet. Look up those of a log with `jade-fence resolve run --log LOG`.'
            : table(COLUMNS, all.map(row), terminal.paint),
        );
        return undefined;
      }),
    );
};

const COLUMNS = [
  { title: '#', align: 'right' as const },
  { title: 'of' },
  { title: 'by' },
  { title: 'state' },
  { title: 'done', align: 'right' as const },
  { title: 'found', align: 'right' as const },
  { title: 'ordered by' },
  { title: 'begun' },
];

function row({ id, log, by, state, done, total, counts, actor, startedAt }: ResolveBody): string[] {
  const share = total === null ? '–' : `${count(done)} of ${count(total)}`;
  return [String(id), log ?? 'named hosts', by, state, share, count(counts.found), safe(actor), clock(startedAt)];
}
