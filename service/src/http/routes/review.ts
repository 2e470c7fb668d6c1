import { review } from '@jade-fence/core';
import { Router } from 'express';
import type { Knex } from 'knex';
import { countryDataInForce } from '../../country/store.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import type { ReviewBody } from '../bodies.js';

/** The review of the workspace as it stands. */
export function reviewRoutes(knex: Knex, states: PreparedStates): Router {
  const router = Router();
  router.get('/review', async (_request, response) => {
    const prepared = await states.get(await currentState(knex, new Date()));
    const country = await countryDataInForce(knex);
    const countryDate = country && Date.parse(`${country.date}T00:00:00Z`);
    response.json({ findings: review(prepared, { countryDate }) } satisfies ReviewBody);
  });
  return router;
}
