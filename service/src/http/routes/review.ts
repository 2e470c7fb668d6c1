import type { ReviewBody } from '@jade-fence/contract';
import type { Prepared } from '@jade-fence/core/engine';
import { type Finding, type Remarked, review, reviewTraffic } from '@jade-fence/core/review';
import type { Knex } from 'knex';
import { countryDataInForce } from '../../country/store.js';
import type { Redactions } from '../../redaction/redactions.js';
import { pageOfReplays } from '../../replay/store.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import { replayBodyOf } from './replay-body.js';

interface ReviewParts {
  readonly knex: Knex;
  readonly states: PreparedStates;
  readonly redactions: Redactions;
}

/** The review of the draft, and remarks from the newest replay. */
export function reviewRoutes(api: Api, { knex, states, redactions }: ReviewParts): void {
  api.add('GET /review', { does: 'What a review of the workspace finds.' }, async (_asked, response) => {
    const prepared = await states.get(await currentState(knex, new Date()));
    const country = await countryDataInForce(knex);
    const countryDate = country && Date.parse(`${country.date}T00:00:00Z`);
    const findings = [...review(prepared, { countryDate }), ...(await byTraffic(prepared))];
    response.json({ findings } satisfies ReviewBody);
  });

  async function byTraffic(prepared: Prepared): Promise<Finding[]> {
    const {
      items: [replay],
    } = await pageOfReplays(knex, { state: 'done' }, { limit: 1 });
    if (!replay) return [];
    const { id, logs } = await replayBodyOf(knex, replay);
    const redactor = await redactions.of(replay, undefined);
    const shown = { of: `replay ${id} of ${logs.join(', ')}`, show: (address: string) => redactor.address(address) };
    return reviewTraffic(JSON.parse(replay.report ?? '{"policies":[]}') as Remarked, shown, prepared);
  }
}
