import { LOG_FORMATS } from '@jade-fence/core/log';
import { Option } from 'commander';
import { requireConfirmed, withYes, type YesGiven } from '../actions/confirm.js';
import { handOver, logNameOf, sendLog } from '../actions/import-log.js';
import { save } from '../actions/save.js';
import { noun } from '../nouns.js';
import { formatHandedOver, formatImported } from '../output/log.js';
import { clock } from '../output/report.js';
import { safe } from '../output/safe.js';
import { count, counted, countOrDot, table } from '../output/table.js';
import { examples, gathered, type Register, wholeNumber } from './command.js';
import { withMapping } from './mapping.js';

interface ImportGiven {
  readonly name?: string;
  readonly format?: string;
  readonly column: readonly string[];
  readonly zone?: string;
  readonly pattern?: string;
  readonly mapping?: string;
  readonly redact: readonly string[];
  readonly wait: boolean;
}

interface RejectedGiven {
  readonly after?: number;
  readonly limit?: number;
  readonly output?: string;
}

export const registerLog: Register = (program, act) => {
  const log = noun(program, 'log').description('Request logs that the service holds.');

  withMapping(
    log
      .command('import')
      .summary('import a request log')
      .description(
        'Streams a log to the service: a file, plain or packed with gzip or zstd, or a tar of several. Lines that cannot be read are kept with their number ' +
          'and reason, and stop nothing. What the service is lost over is sent again when that is back.',
      )
      .argument('<file>', 'the log, or - for standard input')
      .option('--name <name>', 'what to call it (default: made from the file’s name)')
      .addOption(
        new Option('--format <format>', 'how its lines are written (default: found from the first lines)').choices([
          ...LOG_FORMATS,
        ]),
      )
      .option('--mapping <name>', 'take columns, zone and pattern as this saved mapping says')
      .option(
        '--redact <what>',
        'leave this out of what is stored, so that rules are blind there: client, user, header, header.NAME; as often as needed',
        gathered,
        [],
      ),
  )
    .option('--no-wait', 'return as soon as the service has all of it, and let it go on by itself')
    .addHelpText(
      'after',
      examples(
        'jade-fence log import demo/logs/week.jsonl',
        'jade-fence log import access.log --name tickets --format combined',
        'jade-fence log import access.log.gz --name tickets --no-wait',
        'jade-fence log import gate.log --pattern \'{time} {peer} "{request}" {status}\'',
        'jade-fence log import proxy.jsonl --column peer=/request/remote_ip --column "header.*=/request/headers"',
        'jade-fence log import proxy.csv --column peer=Client --column "header.x-client=Real client" --zone Europe/Lisbon',
      ),
    )
    .action(
      act(async (context, file: string, { name, wait, ...how }: ImportGiven) => {
        const order = { file, name: name ?? logNameOf(file), ...how };
        if (!wait) {
          context.show(await handOver(context, order), formatHandedOver);
          return undefined;
        }
        const imported = await sendLog(context, order);
        context.show(imported, (answer) => formatImported(answer, context.terminal.paint));
        return undefined;
      }),
    );

  log
    .command('list')
    .summary('the logs that the service holds')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /logs');
        show(answer, ({ logs }) => {
          if (logs.length === 0) return 'No log has been imported yet. Import one with `jade-fence log import FILE`.';
          const columns = [
            { title: 'log' },
            { title: 'requests', align: 'right' as const },
            { title: 'rejected', align: 'right' as const },
            { title: 'from' },
            { title: 'to' },
            { title: 'format' },
          ];
          const time = (value: string | null) => (value === null ? '–' : clock(value));
          return table(
            columns,
            logs.map((each) => [
              each.name,
              count(each.requests),
              countOrDot(each.rejected),
              time(each.firstTime),
              time(each.lastTime),
              each.format,
            ]),
            terminal.paint,
          );
        });
        return undefined;
      }),
    );

  log
    .command('rejected')
    .summary('the lines of a log that could not be read, and why')
    .argument('<name>', 'the log')
    .option('--after <line>', 'go on after this line', wholeNumber(0, 2 ** 31 - 1))
    .option('--limit <count>', 'how many to show, up to 1,000 (default: 100)', wholeNumber(1, 1000))
    .addOption(
      new Option(
        '-o, --output <file>',
        'write all of them to a file as JSON Lines, or to - for standard output',
      ).conflicts(['after', 'limit']),
    )
    .addHelpText(
      'after',
      examples('jade-fence log rejected week', 'jade-fence log rejected week --output rejected.jsonl'),
    )
    .action(
      act(async ({ client, show, terminal }, name: string, { output, ...given }: RejectedGiven) => {
        if (output !== undefined) {
          await save(await client.download('GET /logs/:name/rejected.jsonl', { params: { name } }), output);
          if (output !== '-') show({ written: output }, () => `Wrote ${safe(output)}.`);
          return undefined;
        }
        const page = await client.call('GET /logs/:name/rejected', { params: { name }, query: given });
        show(page, ({ rejected, next }) => {
          if (rejected.length === 0) return 'Every line could be read.';
          const lines = rejected.map(
            ({ line, reason, text }) =>
              `${terminal.paint.bold(`line ${line}`)}  ${safe(reason)}\n  ${terminal.paint.dim(safe(text.slice(0, 200)))}`,
          );
          return [...lines, ...(next === null ? [] : [`More: --after ${next}`])].join('\n');
        });
        return undefined;
      }),
    );

  withYes(log.command('remove'))
    .summary('delete a log, with the replays that ran over it')
    .argument('<name>', 'the log')
    .action(
      act(async (context, name: string, { yes }: YesGiven) => {
        const { client, show } = context;
        const { requests } = await client.call('GET /logs/:name', { params: { name } });
        const consequence = [
          `Log ${name}, with ${counted(requests, 'request', 'requests')}, and all replays of it would be gone for good.`,
        ];
        await requireConfirmed(context, yes, { consequence, question: 'Delete them?' });
        await client.call('DELETE /logs/:name', { params: { name } });
        show({ deleted: name }, () => `Deleted ${name} and its replays.`);
        return undefined;
      }),
    );
};
