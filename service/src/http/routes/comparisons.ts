import type { ComparisonBody, OfBoth } from '@jade-fence/contract';
import type { Knex } from 'knex';
import type { Redactions } from '../../redaction/redactions.js';
import { type Compared, compareReplays, pageChanges, requireComparable } from '../../replay/comparisons.js';
import { findReplay } from '../../replay/store.js';
import type { Api } from '../api.js';
import { ChangesQuery, ComparisonQuery } from '../input/comparison-input.js';
import { numberOf } from '../number-of.js';
import { ofReplay } from './replay-body.js';

/** A replay beside one before it, of the same log. */
export function comparisonRoutes(api: Api, knex: Knex, redactions: Redactions): void {
  const compared = async (id: string, before: number): Promise<Compared> => {
    const both = { before: await findReplay(knex, before), after: await findReplay(knex, numberOf(id, 'replay')) };
    requireComparable(both);
    return both;
  };

  api.add(
    'GET /replays/:id/comparison',
    { does: 'Compares a replay with one before it.', query: ComparisonQuery },
    async ({ params, query }, response) => {
      const { before, after } = await compared(params.id, query.with);
      const report = await compareReplays(knex, { before, after });
      const of = await ofBoth(knex, { before, after });
      response.json({ of, before: before.id, after: after.id, ...report } satisfies ComparisonBody);
    },
  );

  api.add(
    'GET /replays/:id/comparison/requests',
    { does: 'A page of the requests whose verdict changed.', query: ChangesQuery },
    async ({ params, query }, response) => {
      const { with: before, after = 0, limit, redact, ...filter } = query;
      const both = await compared(params.id, before);
      const page = await pageChanges(knex, both, filter, { after, limit });
      const redactor = await redactions.of(both.after, redact);
      const of = await ofBoth(knex, both);
      response.json({ of, ...page, requests: page.requests.map((each) => redactor.request(each)) });
    },
  );
}

async function ofBoth(knex: Knex, { before, after }: Compared): Promise<OfBoth> {
  return { before: await ofReplay(knex, before), after: await ofReplay(knex, after) };
}
