import type { LookUpBody } from '@jade-fence/contract';
import { lookUp, tryAsked } from '@jade-fence/core/lookup';
import type { Knex } from 'knex';
import { countryDataSet } from '../../country/store.js';
import { refusal } from '../../fault/refusal.js';
import { namedState } from '../../revision/named-state.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import type { Api } from '../api.js';
import { LookUpQuery } from '../input/check-input.js';

/** One question for all that the workspace knows of a value. */
export function lookUpRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.add(
    'GET /look-up',
    {
      does: 'Everything that the workspace knows of an address, host, URL or user.',
      query: LookUpQuery,
    },
    async ({ query }, response) => {
      const asked = tryAsked(query.of);
      if (!asked) throw refusal('nothing-to-look-up', { text: query.of });
      const state = await namedState(knex, query.state, new Date());
      const set = state.countryDataId === undefined ? undefined : await countryDataSet(knex, state.countryDataId);
      const found = lookUp(asked, await states.get(state));
      const countryData = set ? { source: set.source, date: set.date } : null;
      response.json({ ...found, countryData } satisfies LookUpBody);
    },
  );
}
