import type { ImportBody } from '@jade-fence/contract';
import { failureOf } from '../actions/watch-import.js';
import type { Context } from '../context.js';
import { noun } from '../nouns.js';
import { clock } from '../output/report.js';
import { safe } from '../output/safe.js';
import { counted, table } from '../output/table.js';
import { examples, type Register, several, wholeNumber } from './command.js';

const importNumber = wholeNumber(1, 2 ** 31 - 1);

export const registerImport: Register = (program, act) => {
  const imports = noun(program, 'import');
  imports
    .command('cancel')
    .summary('cancel imports that have not ended; nothing of them is kept')
    .argument('<imports...>', 'their numbers', several(importNumber))
    .addHelpText('after', examples('jade-fence import cancel 7'))
    .action(
      act(async ({ client, show }, numbers: readonly number[]) => {
        const ended: ImportBody[] = [];
        for (const number of new Set(numbers))
          ended.push(await client.call('POST /imports/:id/cancel', { params: { id: number } }));
        show({ imports: ended }, () => ended.map(formatEnded).join('\n'));
        return undefined;
      }),
    );
  imports
    .command('list')
    .summary('all of them, the newest first')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /imports');
        show(answer, ({ imports: all }) => {
          if (all.length === 0) return 'No log has been imported yet. Import one with `jade-fence log import FILE`.';
          return [table(COLUMNS, all.map(row), terminal.paint), ...whyFailed(all, terminal)].join('\n');
        });
        return undefined;
      }),
    );
};

const COLUMNS = [
  { title: '#', align: 'right' as const },
  { title: 'log' },
  { title: 'state' },
  { title: 'read' },
  { title: 'left' },
  { title: 'sent by' },
  { title: 'begun' },
];

function row({ id, log, state, held, done, total, secondsLeft, actor, startedAt }: ImportBody): string[] {
  const share = total ? `${Math.floor((done / total) * 100)} % of ${mib(total)}` : mib(done);
  return [
    String(id),
    log,
    state === 'waiting' && !held ? 'being sent' : state,
    state === 'failed' || state === 'cancelled' ? '–' : share,
    secondsLeft === null ? '–' : counted(secondsLeft, 'second', 'seconds'),
    safe(actor),
    clock(startedAt),
  ];
}

const mib = (bytes: number): string => `${(bytes / 1024 ** 2).toFixed(1)} MiB`;

function whyFailed(imports: readonly ImportBody[], { paint }: Context['terminal']): string[] {
  return imports
    .filter(({ state }) => state === 'failed')
    .map((each) => `${paint.yellow('!')} #${each.id}: ${safe(failureOf(each).detail)}`);
}

function formatEnded({ id, log, state }: ImportBody): string {
  return state === 'cancelled'
    ? `Cancelled import ${id}; nothing of ${log} is kept.`
    : `Import ${id} had ended already: it is ${state}.`;
}
