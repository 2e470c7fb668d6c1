import { Router } from 'express';
import type { Knex } from 'knex';
import { type Compared, compareReplays, pageChanges, requireComparable } from '../../replay/comparisons.js';
import { findReplay } from '../../replay/store.js';
import type { ComparisonBody } from '../bodies.js';
import { ChangesQuery, ComparisonQuery } from '../input/comparison-input.js';
import { numberOf } from '../number-of.js';
import { validated } from '../validate.js';

/** A replay beside one before it, of the same log. */
export function comparisonRoutes(knex: Knex): Router {
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
    const { with: before, after, limit, ...filter } = validated(ChangesQuery, request.query, 'query');
    response.json(await pageChanges(knex, await compared(request.params.id, before), filter, { after, limit }));
  });
  return router;
}
