import { Router } from 'express';
import type { Knex } from 'knex';
import type { Redactions } from '../../redaction/redactions.js';
import { type Compared, compareReplays, pageChanges, requireComparable } from '../../replay/comparisons.js';
import { findReplay } from '../../replay/store.js';
import type { ComparisonBody } from '../bodies.js';
import { ChangesQuery, ComparisonQuery } from '../input/comparison-input.js';
import { numberOf } from '../number-of.js';
import { validated } from '../validate.js';

/** A replay beside one before it, of the same log. */
export function comparisonRoutes(knex: Knex, redactions: Redactions): Router {
  const router = Router();
  const compared = async (id: string, before: number): Promise<Compared> => {
    const both = { before: await findReplay(knex, before), after: await findReplay(knex, numberOf(id, 'replay')) };
    requireComparable(both);
    return both;
  };

  router.get('/replays/:id/comparison', async (request, response) => {
    const query = validated(ComparisonQuery, request.query, 'query');
    const { before, after } = await compared(request.params.id, query.with);
    const report = await compareReplays(knex, { before, after });
    response.json({ before: before.id, after: after.id, ...report } satisfies ComparisonBody);
  });

  router.get('/replays/:id/comparison/requests', async (request, response) => {
    const { with: before, after, limit, redact, ...filter } = validated(ChangesQuery, request.query, 'query');
    const both = await compared(request.params.id, before);
    const page = await pageChanges(knex, both, filter, { after, limit });
    const redactor = await redactions.of(both.after, redact);
    response.json({ ...page, requests: page.requests.map((each) => redactor.request(each)) });
  });
  return router;
}
