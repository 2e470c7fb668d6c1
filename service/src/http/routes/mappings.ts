import type { MappingBody } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { allMappings, deleteMapping, findMapping, saveMapping } from '../../log/mappings.js';
import type { SavedMapping } from '../../model/saved-mapping.js';
import type { Api } from '../api.js';
import { MappingName, mappingOf, SavedMappingInput } from '../input/log-input.js';
import { validated } from '../validate.js';

/** Mappings of columns, kept by name. */
export function mappingRoutes(api: Api, knex: Knex): void {
  api.get('/mappings', { role: 'viewer', does: 'The mappings of columns that are kept.' }, async (_asked, response) => {
    response.json({ mappings: (await allMappings(knex)).map(told) });
  });

  api.get('/mappings/:name', { role: 'viewer', does: 'One mapping.' }, async ({ params }, response) => {
    response.json(told(await findMapping(knex, params.name)));
  });

  api.put(
    '/mappings/:name',
    { role: 'editor', does: 'Keeps a mapping by a name.', body: SavedMappingInput },
    async ({ params, body }, response) => {
      const { name } = validated(MappingName, { name: params.name }, 'path');
      const mapping = mappingOf(body.asQuery, 'nothing was saved');
      response.json(told(await saveMapping(knex, name as string, mapping)));
    },
  );

  api.delete(
    '/mappings/:name',
    { role: 'editor', does: 'Deletes a mapping.', status: 204 },
    async ({ params }, response) => {
      await deleteMapping(knex, params.name);
      response.status(204).end();
    },
  );
}

const told = ({ name, columns, zone }: SavedMapping): MappingBody => ({ name, columns, zone });
