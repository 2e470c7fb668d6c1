import type { FilterQuery } from '@jade-fence/contract';
import { EXPORT_FORMS, type ExportForm } from '@jade-fence/contract';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import { save } from '../actions/save.js';
import { noun } from '../nouns.js';
import { formatOf } from '../output/of-replay.js';
import { safe } from '../output/safe.js';
import { examples, type Register } from './command.js';
import { withFilter } from './filter-options.js';
import { withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends FilterQuery, WhichReplay {
  readonly form?: ExportForm;
  readonly output: string;
}

export const registerRequestExport: Register = (program, act) => {
  withReplay(withRedact(withFilter(noun(program, 'request').command('export'))))
    .summary('write the requests of a replay, with their verdicts, to a file')
    .description(
      'Writes requests of a replay with their outcome: everything known as JSON Lines, or in columns as CSV or ' +
        'Parquet. In CSV, texts that a spreadsheet would take for a formula get an apostrophe in front.',
    )
    .requiredOption('-o, --output <file>', 'the file, or - for standard output')
    .addOption(
      new Option('--form <form>', 'how to write them (default: by the end of the file’s name)').choices(EXPORT_FORMS),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence request export --output week.parquet',
        'jade-fence request export --verdict block --country XM --output stopped.csv',
        'jade-fence request export --redact client/24 --redact query --output week.csv',
        'jade-fence request export --form jsonl --output - | head',
      ),
    )
    .action(
      act(async (context, { replay: id, log, form, output, ...query }: Given) => {
        const replay = await chosenReplay(context, { replay: id, log });
        const shown = form ?? EXPORT_FORMS.find((each) => output.toLowerCase().endsWith(`.${each}`)) ?? 'jsonl';
        const carried = { params: { id: replay.id }, query: { form: shown, ...query } };
        await save(await context.client.download('GET /replays/:id/export', carried), output);
        if (output !== '-')
          context.show(
            { replay: replay.id, of: replay, form: shown, written: output },
            ({ of }) => `${formatOf(of)} Wrote ${safe(output)}.`,
          );
        return undefined;
      }),
    );
};
