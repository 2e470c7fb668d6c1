import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import type { CatalogueMergedBody } from '@jade-fence/contract';
import { CATALOGUE_KINDS, type CatalogueKind } from '@jade-fence/core/catalogue';
import { Argument, Option } from 'commander';
import { save } from '../actions/save.js';
import { unreadable } from '../client/workspace-files.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { count, indent, table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, type Register } from './command.js';

interface ExportGiven {
  readonly form: 'csv' | 'yaml';
  readonly output: string;
}

const kindArgument = () => new Argument('<kind>', 'what it is of').choices(CATALOGUE_KINDS);

export const registerCatalogue: Register = (program, act) => {
  const catalogue = noun(program, 'catalogue').description(
    'As CSV: of categories a row an entry (category, entry, note), of applications a row each.',
  );

  catalogue
    .command('import')
    .summary('merge what sources say into the draft')
    .description(
      'The workspace comes first, then the files in their order: the first that has an entry, or an application, defines it. Entries that define it differently are skipped and listed.',
    )
    .addArgument(kindArgument())
    .argument('<files...>', 'CSV files, the one that is to be believed first')
    .option('--dry-run', 'show what would change, and change nothing')
    .addHelpText(
      'after',
      examples('jade-fence catalogue import category demo/catalogue/hedgerow.csv demo/catalogue/orchard.csv --dry-run'),
    )
    .action(
      act(
        async (
          { client, show, terminal },
          kind: CatalogueKind,
          files: readonly string[],
          { dryRun }: { dryRun?: true },
        ) => {
          const sources = files.map((file) => ({ name: basename(file), csv: textOf(file) }));
          const merged = await client.call(`POST /catalogue/${kind}`, { body: { sources, dryRun } });
          show(merged, (shown) => formatMerged(shown, terminal.paint));
          return undefined;
        },
      ),
    );

  catalogue
    .command('export')
    .summary('write each category or application of the draft to a file')
    .addArgument(kindArgument())
    .addOption(new Option('--form <form>', 'how to write them').choices(['csv', 'yaml']).default('csv'))
    .requiredOption('-o, --output <file>', 'the file, or - for standard output')
    .addHelpText('after', examples('jade-fence catalogue export application --output applications.csv'))
    .action(
      act(async ({ client, show }, kind: CatalogueKind, { form, output }: ExportGiven) => {
        await save(await client.download(`GET /catalogue/${kind}.${form}`), output);
        if (output !== '-') show({ kind, form, written: output }, () => `Wrote ${safe(output)}.`);
        return undefined;
      }),
    );
};

function textOf(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw unreadable(file, error as NodeJS.ErrnoException);
  }
}

function formatMerged(
  { dryRun, changes, taken, passedOver, passedOverCount }: CatalogueMergedBody,
  paint: Paint,
): string {
  const changed = changes.filter(({ change }) => change !== 'unchanged');
  const marks = { added: '+', changed: '~' } as Record<string, string>;
  const columns = ['what', 'said', 'by', 'taken instead', 'from'].map((title) => ({ title }));
  const rows = passedOver.map(({ source, what, said, by, instead }) => [what, said, source, instead, by].map(safe));
  const more = passedOverCount - passedOver.length;
  return [
    `${dryRun ? 'Would take' : 'Took'} ${count(taken)} ${taken === 1 ? 'row' : 'rows'}.`,
    ...changed.map(({ kind, name, change }) => `  ${marks[change] ?? '-'} ${kind} ${name}`),
    ...(rows.length > 0
      ? ['', `Passed over: ${count(passedOverCount)}`, indent(table(columns, rows, paint), '  ')]
      : []),
    ...(more > 0 ? [`  and ${count(more)} more`] : []),
  ].join('\n');
}
