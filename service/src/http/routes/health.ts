import { Router } from 'express';
import type { Knex } from 'knex';
import { refusal } from '../../fault/refusal.js';

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
      throw refusal('not-ready');
    }
    response.json({ status: 'ready' });
  });
  return router;
}
