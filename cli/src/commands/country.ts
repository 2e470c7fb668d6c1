import { basename } from 'node:path';
import type { CountryOfBody } from '@jade-fence/contract';
import type { Coverage } from '@jade-fence/core/country';
import { readFile } from '../client/read-file.js';
import { noun } from '../nouns.js';
import { safe } from '../output/safe.js';
import { count } from '../output/table.js';
import { examples, type Register } from './command.js';

const FAULTS_LISTED = 20;

export const registerCountry: Register = (program, act) => {
  const country = noun(program, 'country').description('Country data: which networks are in which country.');

  country
    .command('import')
    .summary('load country data from a file')
    .description(
      'Loads country data into the draft: CSV with rows `start,end,CODE` or `CIDR,CODE`, the statistics of a regional internet registry, or an MMDB file. Networks may lie inside others: the narrower wins.',
    )
    .argument('<file>', 'the file')
    .option('--date <day>', 'the day of the data (default: the day that the file has, or today)')
    .addHelpText(
      'after',
      examples(
        'jade-fence country import demo/country-data.csv --date 2026-11-01',
        'jade-fence country import delegated-extended-latest',
      ),
    )
    .action(
      act(async ({ client, show, terminal }, file: string, { date }: { readonly date?: string }) => {
        const query = { source: basename(file), date };
        const answer = await client.send('PUT /country-data', readFile(file), { query });
        show(answer, ({ networks, coverage, faults, faultCount, date: of }) => {
          const shown = faults
            .slice(0, FAULTS_LISTED)
            .map(({ line, reason }) => `${terminal.paint.yellow('!')} line ${line}: ${safe(reason)}`);
          const more = faultCount > shown.length ? [`… and ${count(faultCount - shown.length)} more`] : [];
          return [
            ...shown,
            ...more,
            `Country data of ${of} is in the draft: ${count(networks)} networks, ${count(faultCount)} rows skipped. It is in force once it is published.`,
            ...(coverage === null ? [] : [formatCoverage(coverage)]),
          ].join('\n');
        });
        return undefined;
      }),
    );

  country
    .command('show')
    .summary('the country of an address')
    .argument('<address>', 'an IPv4 or IPv6 address')
    .addHelpText('after', examples('jade-fence country show 198.18.97.3'))
    .action(
      act(async ({ client, show }, address: string) => {
        const answer = await client.call('GET /country-data/:address', { params: { address } });
        show(
          answer,
          (found) =>
            `${found.address} is ${found.name ? `in ${found.name} (${found.country})` : found.country}, ${saidBy(found)}.`,
        );
        return undefined;
      }),
    );
};

function formatCoverage({ addresses4, share4, sites6, countries }: Coverage): string {
  const part = share4 >= 0.001 ? `${(share4 * 100).toFixed(1)} %` : 'less than 0.1 %';
  const where = countries === 1 ? 'one country' : `${count(countries)} countries`;
  return `It has ${where}: ${count(addresses4)} IPv4 addresses (${part} of all), ${count(sites6)} IPv6 /48 networks.`;
}

function saidBy({ by, network, source, date }: CountryOfBody): string {
  if (by === 'correction') return `by a correction of ${network}`;
  const data = source === null ? 'no country data' : `${source} of ${date}`;
  return network === null ? `since ${data} does not have it` : `by ${data}, which says so of ${network}`;
}
