import { Readable } from 'node:stream';
import type { LogFilterQuery, ReplayBody } from '@jade-fence/contract';
import { DIMENSIONS, type Dimension } from '@jade-fence/core/replay';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { logNameOf, sendLog } from '../actions/import-log.js';
import { runReplay } from '../actions/run-replay.js';
import { save } from '../actions/save.js';
import { readWorkspaceFiles } from '../client/workspace-files.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { Failure, failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatImported } from '../output/log.js';
import { formatOf, stateOf } from '../output/of-replay.js';
import { formatBreakdown, formatReport } from '../output/report.js';
import { safe } from '../output/safe.js';
import { count, counted, table } from '../output/table.js';
import { examples, type Register, STATE_OPTION, several } from './command.js';
import { withLogFilter } from './filter-options.js';
import { type RedactGiven, withRedact } from './redact-option.js';
import { replayNumber, withLogOfReplay } from './replay-option.js';

interface ReplayGiven extends LogFilterQuery {
  readonly import?: string;
  readonly state?: string;
  readonly policy?: string;
  readonly at?: string;
  readonly try?: readonly string[];
}

interface ReportGiven extends RedactGiven, Pick<WhichReplay, 'log'> {
  readonly by?: Dimension;
  readonly output?: string;
}

export const registerReplay: Register = (program, act) => {
  withLogFilter(noun(program, 'replay').command('run'))
    .summary('run the workspace over a log, and print the report')
    .description(
      'Judges every request of a log by the draft, and prints the result: by verdict, by rule, by country and by host. Each request goes to the policy that covers it, or all to the one that is named. Options that select requests restrict what is judged and counted under limits.',
    )
    .argument('[logs...]', 'logs that the service holds; several are taken for one')
    .option('--import <file>', 'import this file first, under the name of the log')
    .option('--state <state>', STATE_OPTION)
    .option('--policy <name>', 'judge every request by this policy')
    .option(
      '--try <files...>',
      'judge by these workspace files in place of the draft’s objects of the same names; they are not stored',
    )
    .option('--at <time>', 'judge the expiry of list entries at this time (default: now)')
    .addHelpText(
      'after',
      examples(
        'jade-fence replay run week',
        'jade-fence replay run week --try demo/workspace/ticket-site.yaml --from 2026-11-14T00:00:00Z',
        'jade-fence replay run --import demo/logs/week.jsonl',
        'jade-fence replay run week --state published',
        'jade-fence replay run week --policy visitor-web --json',
      ),
    )
    .action(
      act(async (context, given: readonly string[], options: ReplayGiven) => {
        const { import: file, state, policy, at, try: tried = [], ...only } = options;
        const logs = given.length > 0 || file === undefined ? given : [logNameOf(file)];
        const [name] = logs;
        if (name === undefined) throw failure(EXIT.usage, 'no-log');
        if (file !== undefined) {
          const imported = await sendLog(context, { file, name });
          if (!context.json) context.terminal.err(formatImported(imported, context.terminal.paint));
        }
        const files = tried.flatMap(readWorkspaceFiles);
        await showReport(context, await runReplay(context, { logs, state, policy, at, only, files }));
        return undefined;
      }),
    );

  withLogOfReplay(withRedact(noun(program, 'replay').command('show')))
    .summary('print the report of a replay once more')
    .argument('[replay]', 'its number (default: the newest that you ran)', replayNumber)
    .addOption(
      new Option('--by <dimension>', 'only the requests by this, all of them that are kept').choices(DIMENSIONS),
    )
    .addOption(
      new Option(
        '-o, --output <file>',
        'write it to a file: Markdown (.md), a page that needs nothing else (.html), or JSON',
      ).conflicts('by'),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence replay show',
        'jade-fence replay show 3 --by hour',
        'jade-fence replay show --output week.html',
      ),
    )
    .action(
      act(async (context, id: number | undefined, { by, output, redact, log }: ReportGiven) => {
        const replay = await chosenReplay(context, { replay: id, log });
        if (output !== undefined) await saveReport(context, replay, { output, redact });
        else if (by === undefined) await showReport(context, replay, redact);
        else await showBreakdown(context, replay, { by, redact });
        return undefined;
      }),
    );

  const replays = noun(program, 'replay');
  withYes(replays.command('remove'))
    .summary('delete replays that have ended, with their verdicts and reports')
    .argument('<replays...>', 'their numbers', several(replayNumber))
    .addHelpText('after', examples('jade-fence replay remove 12 13'))
    .action(
      act(async (context, numbers: readonly number[], { yes }: YesGiven) => {
        const { client, show, terminal } = context;
        const consequence = [
          `The replays ${numbers.join(', ')} with their verdicts and reports would be gone for good.`,
        ];
        await requireConfirmed(context, yes, { consequence, question: 'Delete them?' });
        const deleted: number[] = [];
        const refused: Failure[] = [];
        for (const number of new Set(numbers))
          try {
            await client.call('DELETE /replays/:id', { params: { id: number } });
            deleted.push(number);
          } catch (error) {
            if (!(error instanceof Failure)) throw error;
            refused.push(error);
          }
        const shown = `Deleted ${counted(deleted.length, 'replay', 'replays')}.`;
        const [first] = refused;
        if (first === undefined) {
          show({ deleted }, () => shown);
          return undefined;
        }
        if (deleted.length > 0) terminal.err(shown);
        const detail = [...new Set(refused.map(({ body }) => body.detail))].join(' ');
        throw new Failure(first.exitCode, { ...first.body, detail });
      }),
    );
  replays
    .command('list')
    .summary('all of them, the newest first')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.call('GET /replays');
        show(answer, ({ replays }) => {
          if (replays.length === 0) return 'No replay has been run yet. Run one with `jade-fence replay run LOG`.';
          const columns = [
            { title: '#', align: 'right' as const },
            { title: 'logs' },
            { title: 'judged by' },
            { title: 'state' },
            { title: 'requests', align: 'right' as const },
            { title: 'started' },
            { title: 'by' },
          ];
          const row = (each: ReplayBody) => [
            String(each.id),
            `${each.logs.join(', ') || '–'}${each.only ? ' (in part)' : ''}`,
            judgedBy(each),
            each.state,
            count(each.total),
            each.startedAt.slice(0, 19).replace('T', ' '),
            each.orderedBy ?? '–',
          ];
          return table(columns, replays.map(row), terminal.paint);
        });
        return undefined;
      }),
    );
};

async function showReport(
  { client, show, terminal }: Context,
  replay: ReplayBody,
  redact: readonly string[] = [],
): Promise<void> {
  const report = await client.call('GET /replays/:id/report', { params: { id: replay.id }, query: { redact } });
  show({ replay, report }, (answer) => formatReport(answer.replay, answer.report, terminal));
}

async function saveReport(
  { client, show }: Context,
  replay: ReplayBody,
  { output, redact }: { readonly output: string; readonly redact: readonly string[] },
): Promise<void> {
  const carried = { params: { id: replay.id }, query: { redact } };
  const page = PAGES.find((each) => output.toLowerCase().endsWith(`.${each}`));
  if (page) await save(await client.download(`GET /replays/:id/report.${page}`, carried), output);
  else await save(Readable.from([JSON.stringify(await client.call('GET /replays/:id/report', carried))]), output);
  if (output !== '-')
    show({ replay: replay.id, of: replay, written: output }, ({ of }) => `${formatOf(of)} Wrote ${safe(output)}.`);
}

async function showBreakdown(
  { client, show, terminal }: Context,
  replay: ReplayBody,
  { by, redact }: { readonly by: Dimension; readonly redact: readonly string[] },
): Promise<void> {
  const { breakdowns } = await client.call('GET /replays/:id/report', { params: { id: replay.id }, query: { redact } });
  const breakdown = breakdowns[by];
  show(
    { replay, by, ...breakdown },
    () => `${formatOf(replay)}\n\n${formatBreakdown(by, breakdown, breakdown.rows.length, terminal.paint)}`,
  );
}

/** The forms that a report has for people to pass on; all else is JSON. */
const PAGES = ['md', 'html'] as const;

const judgedBy = (replay: ReplayBody): string => `${replay.policy ?? 'what covers them'}, ${stateOf(replay)}`;
