import type { MappingBody } from '@jade-fence/contract';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, gathered, type Register } from './command.js';

interface SaveGiven {
  readonly column: readonly string[];
  readonly zone?: string;
}

/** `FIELD=COLUMN`; what has no `=` is left to the service to refuse. */
const parted = (shown: string): [string, string] => {
  const [field = '', ...column] = shown.split('=');
  return [field, column.join('=')];
};

export const registerMapping: Register = (program, act) => {
  const mapping = program
    .command('mapping')
    .summary('keep by name how the columns of logs are taken')
    .description('Mappings say which column of a CSV log each field is in, and the time zone of its times.');

  mapping
    .command('save')
    .summary('keep a mapping, in place of one of that name')
    .argument('<name>', 'what to call it')
    .option('--column <field=column>', 'the column that a field is in; as often as needed', gathered, [])
    .option('--zone <zone>', 'the time zone of times without an offset')
    .addHelpText(
      'after',
      examples('jade-fence mapping save gatehouse --column peer=Client --column host=Site --zone Europe/Lisbon'),
    )
    .action(
      act(async ({ client, show }, name: string, { column, zone }: SaveGiven) => {
        const saved = await client.call('PUT /mappings/:name', {
          params: { name },
          body: { columns: Object.fromEntries(column.map(parted)), zone },
        });
        show(saved, () => `Saved ${name}. Import with it by \`jade-fence log import FILE --mapping ${name}\`.`);
        return undefined;
      }),
    );

  mapping
    .command('list')
    .summary('the mappings that the service keeps')
    .action(
      act(async ({ client, show, terminal }) => {
        const answer = await client.all('GET /mappings');
        show(answer, ({ mappings }) => formatMappings(mappings, terminal.paint));
        return undefined;
      }),
    );

  mapping
    .command('delete')
    .summary('forget a mapping')
    .argument('<name>', 'the mapping')
    .action(
      act(async ({ client, show }, name: string) => {
        await client.call('DELETE /mappings/:name', { params: { name } });
        show({ deleted: name }, () => `Deleted mapping ${name}.`);
        return undefined;
      }),
    );
};

function formatMappings(mappings: readonly MappingBody[], paint: Paint): string {
  if (mappings.length === 0) return 'No mapping has been saved yet. Save one with `jade-fence mapping save NAME`.';
  const rows = mappings.map(({ name, columns, zone }) => [
    name,
    Object.entries(columns)
      .map(([field, column]) => `${field}=${safe(column)}`)
      .join('  '),
    zone ?? 'UTC',
  ]);
  return table([{ title: 'mapping' }, { title: 'columns' }, { title: 'zone' }], rows, paint);
}
