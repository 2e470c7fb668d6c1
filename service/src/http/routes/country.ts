import {
  countryName,
  coverageOf,
  formatAddress,
  formatRange,
  networkTelling,
  originOf,
  parseAddress,
} from '@jade-fence/core';
import { Router, raw } from 'express';
import type { Knex } from 'knex';
import { countryDataInForce, loadCountryData } from '../../country/store.js';
import type { CountryDataSet } from '../../model/country-data-set.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import type { CountryDataBody, CountryOfBody } from '../bodies.js';
import { CountryDataQuery } from '../input/country-input.js';
import { Problem } from '../problem.js';
import { validated } from '../validate.js';

/** Country data: what is loaded, loading it, and what it says of an address. */
export function countryRoutes(knex: Knex, states: PreparedStates): Router {
  const router = Router();
  const prepared = async () => states.get(await currentState(knex, ANY_INSTANT));
  const body = async (set: CountryDataSet): Promise<CountryDataBody> => {
    const { data } = (await prepared()).country;
    const { source, date, networks, faults, faultCount, loadedAt } = set;
    const coverage = data ? coverageOf(data) : null;
    return { source, date, networks, coverage, faultCount, faults, loadedAt: loadedAt.toISOString() };
  };

  router.get('/country-data', async (_request, response) => {
    const set = await countryDataInForce(knex);
    response.json(set ? await body(set) : null);
  });

  router.put('/country-data', raw({ type: () => true, limit: '256mb' }), async (request, response) => {
    const { source, date } = validated(CountryDataQuery, request.query, 'query');
    const file = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
    await loadCountryData(knex, { source, date, file });
    response.json(await body((await countryDataInForce(knex)) as CountryDataSet));
  });

  router.get('/country-data/:address', async (request, response) => {
    const address = parseAddress(request.params.address);
    if (!address) throw new Problem(400, 'bad-address', `\`${request.params.address}\` is not an IP address.`);
    const set = await countryDataInForce(knex);
    const sources = (await prepared()).country;
    const origin = originOf(sources, address);
    if (!origin)
      throw new Problem(409, 'no-country-data', 'No country data is loaded, and no correction holds the address.', {
        remedy: 'Load it with `jade-fence country load FILE`.',
      });
    const { country, by } = origin;
    const network = networkTelling(sources, address);
    const told = { address: formatAddress(address), country, name: countryName(country) ?? null, by };
    const from = { source: set?.source ?? null, date: set?.date ?? null };
    response.json({ ...told, network: network ? formatRange(network.range) : null, ...from } satisfies CountryOfBody);
  });
  return router;
}

/** Country data does not depend on the instant; always the same one keeps what was prepared in use. */
const ANY_INSTANT = new Date(0);
