import { json, Router } from 'express';
import type { Knex } from 'knex';
import { allMappings, deleteMapping, findMapping, saveMapping } from '../../log/mappings.js';
import type { SavedMapping } from '../../model/saved-mapping.js';
import type { MappingBody } from '../bodies.js';
import { MappingName, mappingOf, SavedMappingInput } from '../input/log-input.js';
import { validated } from '../validate.js';

/** Mappings of columns, kept by name. */
export function mappingRoutes(knex: Knex): Router {
  const router = Router();
  router.get('/mappings', async (_request, response) => {
    response.json({ mappings: (await allMappings(knex)).map(body) });
  });

  router.get('/mappings/:name', async (request, response) => {
    response.json(body(await findMapping(knex, request.params.name)));
  });

  router.put('/mappings/:name', json({ limit: '64kb' }), async (request, response) => {
    const { name } = validated(MappingName, { name: request.params.name }, 'path');
    const mapping = mappingOf(validated(SavedMappingInput, request.body, 'body').asQuery, 'nothing was saved');
    response.json(body(await saveMapping(knex, name as string, mapping)));
  });

  router.delete('/mappings/:name', async (request, response) => {
    await deleteMapping(knex, request.params.name);
    response.status(204).end();
  });
  return router;
}

const body = ({ name, columns, zone }: SavedMapping): MappingBody => ({ name, columns, zone });
