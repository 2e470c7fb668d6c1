import { DIMENSIONS, type Dimension, type Report } from '@jade-fence/core';
import type { ReplayBody } from '@jade-fence/service/bodies';
import { Option } from 'commander';
import { logNameOf, sendLog } from '../actions/import-log.js';
import { chosenReplay, runReplay } from '../actions/run-replay.js';
import { save } from '../actions/save.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { formatImported } from '../output/log.js';
import { formatBreakdown, formatReport } from '../output/report.js';
import { safe } from '../output/safe.js';
import { count, table } from '../output/table.js';
import { examples, type Register, wholeNumber } from './command.js';

interface ReplayGiven {
  readonly import?: string;
  readonly policy?: string;
  readonly at?: string;
}

interface ReportGiven {
  readonly by?: Dimension;
  readonly output?: string;
}

export const replayNumber = wholeNumber(1, 2 ** 31 - 1);

export const registerReplay: Register = (program, act) => {
  program
    .command('replay')
    .summary('run the workspace over a log, and print the report')
    .description(
      'Judges every request of a log by the workspace as it stands, and prints what came out: by verdict, by rule, by country and by host. Each request goes to the policy that covers it, or all to the one that is named.',
    )
    .argument('[log]', 'a log that the service holds')
    .option('--import <file>', 'import this file first, under the name of the log')
    .option('--policy <name>', 'judge every request by this policy')
    .option('--at <time>', 'judge the expiry of list entries at this time (default: now)')
    .addHelpText(
      'after',
      examples(
        'jade-fence replay week',
        'jade-fence replay --import demo/logs/week.jsonl',
        'jade-fence replay week --policy visitor-web --json',
      ),
    )
    .action(
      act(async (context, log: string | undefined, given: ReplayGiven) => {
        const name = log ?? (given.import === undefined ? undefined : logNameOf(given.import));
        if (name === undefined)
          throw new Failure(EXIT.usage, {
            code: 'no-log',
            detail: 'Nothing tells which log.',
            remedy: 'Name one that the service holds, or give --import FILE.',
          });
        if (given.import !== undefined) {
          const imported = await sendLog(context, { file: given.import, name });
          if (!context.json) context.terminal.err(formatImported(imported, context.terminal.paint));
        }
        await showReport(context, await runReplay(context, { log: name, policy: given.policy, at: given.at }));
        return undefined;
      }),
    );

  program
    .command('report')
    .summary('print the report of a replay once more')
    .argument('[replay]', 'its number (default: the newest)', replayNumber)
    .addOption(
      new Option('--by <dimension>', 'only the requests by this, all of them that are kept').choices(DIMENSIONS),
    )
    .addOption(
      new Option(
        '--output <file>',
        'write it to a file: Markdown (.md), a page that needs nothing else (.html), or JSON',
      ).conflicts('by'),
    )
    .addHelpText(
      'after',
      examples('jade-fence report', 'jade-fence report 3 --by hour', 'jade-fence report --output week.html'),
    )
    .action(
      act(async (context, id: number | undefined, { by, output }: ReportGiven) => {
        const replay = await chosenReplay(context, id);
        if (output !== undefined) await saveReport(context, replay, output);
        else if (by === undefined) await showReport(context, replay);
        else await showBreakdown(context, replay, by);
        return undefined;
      }),
    );

  program
    .command('replays')
    .summary('the replays that have been run, the newest first')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.get<{ replays: ReplayBody[] }>('/api/replays');
        show(answer, ({ replays }) => {
          if (replays.length === 0) return 'No replay has been run yet. Run one with `jade-fence replay LOG`.';
          const columns = [
            { title: '#', align: 'right' as const },
            { title: 'log' },
            { title: 'judged by' },
            { title: 'state' },
            { title: 'requests', align: 'right' as const },
            { title: 'started' },
          ];
          const row = (each: ReplayBody) => [
            String(each.id),
            each.log ?? '–',
            each.policy ?? 'what covers them',
            each.state,
            count(each.total),
            each.startedAt.slice(0, 19).replace('T', ' '),
          ];
          return table(columns, replays.map(row), terminal.paint);
        });
        return undefined;
      }),
    );
};

async function showReport({ client, show, terminal }: Context, replay: ReplayBody): Promise<void> {
  const report = await client.get<Report>(`/api/replays/${replay.id}/report`);
  show({ replay, report }, (answer) => formatReport(answer.replay, answer.report, terminal));
}

async function saveReport({ client, show }: Context, replay: ReplayBody, output: string): Promise<void> {
  const end = /\.(?:md|html)$/i.exec(output)?.[0].toLowerCase() ?? '';
  await save(await client.download(`/api/replays/${replay.id}/report${end}`), output);
  if (output !== '-') show({ replay: replay.id, written: output }, () => `Wrote ${safe(output)}.`);
}

async function showBreakdown({ client, show, terminal }: Context, replay: ReplayBody, by: Dimension): Promise<void> {
  const { breakdowns } = await client.get<Report>(`/api/replays/${replay.id}/report`);
  const breakdown = breakdowns[by];
  show({ replay, by, ...breakdown }, () => formatBreakdown(by, breakdown, breakdown.rows.length, terminal.paint));
}
