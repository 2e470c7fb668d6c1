import type { CountryDataBody, CountryOfBody } from '@jade-fence/contract';
import { formatAddress, formatRange, parseAddress } from '@jade-fence/core/address';
import { countryName, coverageOf, networkTelling, originOf } from '@jade-fence/core/country';
import type { Knex } from 'knex';
import { countryDataInForce } from '../../country/store.js';
import { refusal } from '../../fault/refusal.js';
import type { CountryDataSet } from '../../model/country-data-set.js';
import { loadCountryData } from '../../workspace/country-data.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import { CountryDataQuery } from '../input/country-input.js';

/** Country data: what is loaded, loading it, and what it says of an address. */
export function countryRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  const prepared = async () => states.get(await currentState(knex, ANY_INSTANT));
  const body = async (set: CountryDataSet): Promise<CountryDataBody> => {
    const { data } = (await prepared()).country;
    const { source, date, networks, faults, faultCount, loadedAt } = set;
    const coverage = data ? coverageOf(data) : null;
    return { source, date, networks, coverage, faultCount, faults, loadedAt: loadedAt.toISOString() };
  };

  api.add(
    'GET /country-data',
    { does: 'The country data of the draft; null where none is loaded.' },
    async (_asked, response) => {
      const set = await countryDataInForce(knex);
      response.json(set ? await body(set) : null);
    },
  );

  api.add(
    'PUT /country-data',
    {
      does: 'Loads country data into the draft.',
      query: CountryDataQuery,
      file: '256mb',
    },
    async ({ query, file, who }, response) => {
      const { source, date } = query;
      await loadCountryData(knex, { source, date, file }, who.name);
      response.json(await body((await countryDataInForce(knex)) as CountryDataSet));
    },
  );

  api.add(
    'GET /country-data/:address',
    { does: 'What the country data says of an address.' },
    async ({ params }, response) => {
      const address = parseAddress(params.address);
      if (!address) throw refusal('bad-address', { text: params.address });
      const set = await countryDataInForce(knex);
      const sources = (await prepared()).country;
      const origin = originOf(sources, address);
      if (!origin) throw refusal('country-data-not-loaded');
      const { country, by } = origin;
      const network = networkTelling(sources, address);
      const shown = { address: formatAddress(address), country, name: countryName(country) ?? null, by };
      const from = { source: set?.source ?? null, date: set?.date ?? null };
      response.json({
        ...shown,
        network: network ? formatRange(network.range) : null,
        ...from,
      } satisfies CountryOfBody);
    },
  );
}
