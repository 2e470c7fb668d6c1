import { countryName, formatAddress, originOf, parseAddress } from '@jade-fence/core';
import { Router, raw } from 'express';
import type { Knex } from 'knex';
import { compiledCountryData, countryDataInForce, loadCountryData } from '../../country/store.js';
import type { CountryDataSet } from '../../model/country-data-set.js';
import type { CountryDataBody, CountryOfBody } from '../bodies.js';
import { CountryDataQuery } from '../input/country-input.js';
import { Problem } from '../problem.js';
import { validated } from '../validate.js';

/** Country data: what is loaded, loading it, and what it says of an address. */
export function countryRoutes(knex: Knex): Router {
  const router = Router();
  router.get('/country-data', async (_request, response) => {
    const set = await countryDataInForce(knex);
    response.json(set ? body(set) : null);
  });

  router.put('/country-data', raw({ type: () => true, limit: '256mb' }), async (request, response) => {
    const { source, date } = validated(CountryDataQuery, request.query, 'query');
    const file = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
    await loadCountryData(knex, { source, date, file });
    response.json(body((await countryDataInForce(knex)) as CountryDataSet));
  });

  router.get('/country-data/:address', async (request, response) => {
    const address = parseAddress(request.params.address);
    if (!address) throw new Problem(400, 'bad-address', `\`${request.params.address}\` is not an IP address.`);
    const set = await countryDataInForce(knex);
    if (!set)
      throw new Problem(409, 'no-country-data', 'No country data is loaded.', {
        remedy: 'Load it with `jade-fence country load FILE`.',
      });
    const origin = originOf(await compiledCountryData(knex, set.id), address);
    const { country } = origin;
    const told = { address: formatAddress(address), country, name: countryName(country) ?? null };
    response.json({ ...told, source: set.source, date: set.date } satisfies CountryOfBody);
  });
  return router;
}

function body({ source, date, networks, faults, faultCount, loadedAt }: CountryDataSet): CountryDataBody {
  return { source, date, networks, faultCount, faults, loadedAt: loadedAt.toISOString() };
}
