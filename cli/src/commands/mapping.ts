import { closeSync, openSync, readSync } from 'node:fs';
import { constants, gunzipSync } from 'node:zlib';
import type { MappingBody } from '@jade-fence/contract';
import { LOG_FORMATS, type LogFormat } from '@jade-fence/core/log';
import { type Command, Option } from 'commander';
import { unreadable } from '../client/workspace-files.js';
import { noun } from '../nouns.js';
import { formatPreview } from '../output/preview.js';
import { safe } from '../output/safe.js';
import { table } from '../output/table.js';
import type { Paint } from '../output/terminal.js';
import { examples, gathered, type Register } from './command.js';

interface SaveGiven {
  readonly column: readonly string[];
  readonly zone?: string;
  readonly pattern?: string;
}

interface TryGiven extends SaveGiven {
  readonly format?: LogFormat;
  readonly mapping?: string;
}

/** Gives a command the options that say how the parts of a log are taken. */
export const withMapping = (command: Command): Command =>
  command
    .option(
      '--column <field=place>',
      'where a field is: the column of a table, or the place in JSON, as `name`, `outer.inner` or `/outer/inner`; as often as needed',
      gathered,
      [],
    )
    .option('--zone <zone>', 'the time zone of times without an offset (default: UTC)')
    .option('--pattern <pattern>', 'the shape of lines of text, such as `{time} {peer} "{request}" {status}`');

/** So much of a file is tried. */
const TRIED = 16 * 1024;

/** The start of a file that is packed with gzip. */
const unpacked = (bytes: Buffer): Buffer =>
  bytes[0] === 0x1f && bytes[1] === 0x8b
    ? gunzipSync(bytes, { finishFlush: constants.Z_SYNC_FLUSH }).subarray(0, TRIED)
    : bytes;

/** Its first whole lines. */
function startOf(file: string): string {
  try {
    const handle = openSync(file, 'r');
    const bytes = Buffer.alloc(TRIED);
    const length = readSync(handle, bytes, 0, TRIED, 0);
    closeSync(handle);
    const plain = unpacked(bytes.subarray(0, length));
    const text = plain.toString();
    return plain.length < TRIED && length < TRIED ? text : text.slice(0, text.lastIndexOf('\n') + 1 || undefined);
  } catch (error) {
    throw unreadable(file, error as NodeJS.ErrnoException);
  }
}

/** `FIELD=COLUMN`; what has no `=` is left to the service to refuse. */
const parted = (shown: string): [string, string] => {
  const [field = '', ...column] = shown.split('=');
  return [field, column.join('=')];
};

export const registerMapping: Register = (program, act) => {
  const mapping = noun(program, 'mapping').description(
    'Mappings say where each field of a log is: in a column of CSV, a member of JSON, or a part of a line of text.',
  );

  withMapping(
    mapping
      .command('try')
      .summary('show what the first lines of a file are read as; nothing is stored')
      .argument('<file>', 'the log')
      .addOption(
        new Option('--format <format>', 'how its lines are written (default: found from them)').choices([
          ...LOG_FORMATS,
        ]),
      )
      .option('--mapping <name>', 'begin with this saved mapping'),
  )
    .addHelpText(
      'after',
      examples(
        'jade-fence mapping try gate.log --pattern \'{time} {peer} "{request}" {status}\'',
        'jade-fence mapping try proxy.jsonl --column peer=/request/remote_ip --column "header.*=/request/headers"',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, file: string, { column, ...how }: TryGiven) => {
        const columns = Object.fromEntries(column.map(parted));
        const found = await client.call('POST /mappings/preview', { body: { text: startOf(file), columns, ...how } });
        show(found, (answer) => formatPreview(answer, terminal.paint));
        return undefined;
      }),
    );

  withMapping(
    mapping
      .command('set')
      .summary('keep a mapping, in place of one of that name')
      .argument('<name>', 'what to call it'),
  )
    .addHelpText(
      'after',
      examples('jade-fence mapping set gatehouse --column peer=Client --column host=Site --zone Europe/Lisbon'),
    )
    .action(
      act(async ({ client, show }, name: string, { column, zone, pattern }: SaveGiven) => {
        const saved = await client.call('PUT /mappings/:name', {
          params: { name },
          body: { columns: Object.fromEntries(column.map(parted)), zone, pattern },
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
    .command('remove')
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
  if (mappings.length === 0) return 'No mapping has been saved yet. Save one with `jade-fence mapping set NAME`.';
  const rows = mappings.map(({ name, columns, zone, pattern }) => [
    name,
    pattern === null
      ? Object.entries(columns)
          .map(([field, column]) => `${field}=${safe(column)}`)
          .join('  ')
      : safe(pattern),
    zone ?? 'UTC',
  ]);
  return table([{ title: 'mapping' }, { title: 'fields' }, { title: 'zone' }], rows, paint);
}
