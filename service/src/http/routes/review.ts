import { review } from '@jade-fence/core';
import type { Knex } from 'knex';
import { countryDataInForce } from '../../country/store.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import type { ReviewBody } from '../bodies.js';

/** The review of the workspace as it stands. */
export function reviewRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.get('/review', { role: 'viewer', does: 'What a review of the workspace finds.' }, async (_asked, response) => {
    const prepared = await states.get(await currentState(knex, new Date()));
    const country = await countryDataInForce(knex);
    const countryDate = country && Date.parse(`${country.date}T00:00:00Z`);
    response.json({ findings: review(prepared, { countryDate }) } satisfies ReviewBody);
  });
}
