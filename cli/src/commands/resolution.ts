import { basename } from 'node:path';
import { RESOLUTION_FORMATS, type ResolutionFormat } from '@jade-fence/core/resolution';
import { Option } from 'commander';
import { readFile } from '../client/read-file.js';
import { noun } from '../nouns.js';
import { formatLoad, formatResolutions } from '../output/resolutions.js';
import { examples, type Register } from './command.js';

interface LoadGiven {
  readonly format?: ResolutionFormat;
  readonly origin?: string;
  readonly anew?: boolean;
}

export const registerResolution: Register = (program, act) => {
  const resolutions = noun(program, 'resolution').description(
    'Which addresses hosts have, for policies with `destinations: {resolve: true}`. Answers are in force at once, for what is published too; a replay names the state that it used.',
  );

  resolutions
    .command('import')
    .summary('load the addresses of hosts from a CSV, hosts or zone file')
    .description(
      'Loads rows `host,address[,seen[,holds]]`, a hosts file, or a zone file of RFC 1035. The last answer for a host counts.',
    )
    .argument('<file>', 'the file')
    .addOption(
      new Option('--format <format>', 'what the file is (default: found from its first line)').choices(
        RESOLUTION_FORMATS,
      ),
    )
    .option('--origin <domain>', 'what relative names of a zone file are under, until it says $ORIGIN')
    .option('--anew', 'forget what was known before')
    .addHelpText(
      'after',
      examples(
        'jade-fence resolution import demo/resolutions.csv',
        'jade-fence resolution import fennelhill.zone --origin fennelhill.example',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, file: string, { format, origin, anew }: LoadGiven) => {
        const query = { source: basename(file), format, origin, anew };
        show(await client.send('POST /resolutions/loads', readFile(file), { query }), (load) =>
          formatLoad(load, terminal.paint),
        );
        return undefined;
      }),
    );

  resolutions
    .command('show')
    .summary('how much is known, and what was loaded')
    .action(
      act(async ({ client, show, terminal }) => {
        const body = await client.call('GET /resolutions');
        const { loads } = await client.call('GET /resolutions/loads', { query: { limit: 20 } });
        show({ ...body, loads }, () => formatResolutions(body, loads, terminal.paint));
        return undefined;
      }),
    );
};
