import type { LookUpBody } from '@jade-fence/contract';
import { formatAddress } from '@jade-fence/core/address';
import { type Asked, lookUp, tryAsked } from '@jade-fence/core/lookup';
import type { Knex } from 'knex';
import { countryDataSet } from '../../country/store.js';
import { refusal } from '../../fault/refusal.js';
import { findLog } from '../../log/store.js';
import { countedRemedies, remediesOf } from '../../resolve/remedies.js';
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
      const prepared = await states.get(state);
      const found = lookUp(asked, prepared);
      const countryData = set ? { source: set.source, date: set.date } : null;
      const host = hostOf(asked);
      const log = query.log === undefined ? undefined : await findLog(knex, query.log);
      const gone = new AbortController();
      response.on('close', () => gone.abort());
      const remedies =
        host === undefined
          ? []
          : log
            ? await countedRemedies(knex, host, prepared, log, gone.signal)
            : remediesOf(host, prepared).map((remedy) => ({ ...remedy, requests: null, others: null }));
      response.json({ ...found, countryData, remedies } satisfies LookUpBody);
    },
  );
}

/** The host that something is or has; undefined for a user. */
function hostOf(asked: Asked): string | undefined {
  switch (asked.kind) {
    case 'address':
      return formatAddress(asked.address);
    case 'host':
      return asked.host;
    case 'url':
      return asked.request.host;
    case 'user':
      return undefined;
  }
}
