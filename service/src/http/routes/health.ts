import { Router } from 'express';
import type { Knex } from 'knex';
import { Refusal } from '../../fault/refusal.js';

/** Whether the service lives, and whether it is ready to work; open to everyone, and without further details. */
export function healthRoutes(knex: Knex): Router {
  const router = Router();
  router.get('/health', (_request, response) => {
    response.json({ status: 'alive' });
  });
  router.get('/ready', async (_request, response) => {
    try {
      await knex.raw('select 1').timeout(2000);
    } catch {
      throw new Refusal('not-ready', 'The database does not answer.');
    }
    response.json({ status: 'ready' });
  });
  return router;
}
