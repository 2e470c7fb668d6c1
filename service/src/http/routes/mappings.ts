import type { MappingBody } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { refusal } from '../../fault/refusal.js';
import { deleteMapping, findMapping, mappingWithSaved, pageOfMappings, saveMapping } from '../../log/mappings.js';
import type { SavedMapping } from '../../model/saved-mapping.js';
import { previewOf } from '../../replay/preview.js';
import type { Api } from '../api.js';
import { MappingName, MappingPreviewInput, mappingOf, SavedMappingInput } from '../input/log-input.js';
import { NamedPageQuery } from '../input/page-query.js';
import { validated } from '../validate.js';

/** As JSON a text may be several times as long as it is. */
const LARGEST_PREVIEW = '256kb';

/** Mappings, kept by name, and tried on lines. */
export function mappingRoutes(api: Api, knex: Knex): void {
  api.add(
    'GET /mappings',
    { does: 'The mappings that are kept, by name.', query: NamedPageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfMappings(knex, query);
      response.json({ mappings: items.map(shown), next });
    },
  );

  api.add('GET /mappings/:name', { does: 'One mapping.' }, async ({ params }, response) => {
    response.json(shown(await findMapping(knex, params.name)));
  });

  api.add(
    'PUT /mappings/:name',
    { does: 'Keeps a mapping by a name.', body: SavedMappingInput },
    async ({ params, body }, response) => {
      const { name } = validated(MappingName, { name: params.name }, 'path');
      const mapping = mappingOf(body.asQuery, 'nothing was saved');
      response.json(shown(await saveMapping(knex, name as string, mapping)));
    },
  );

  api.add(
    'POST /mappings/preview',
    {
      does: 'What the first lines of a log are read as, by a mapping; nothing is stored.',
      body: MappingPreviewInput,
      largest: LARGEST_PREVIEW,
    },
    async ({ body }, response) => {
      const mapping = await mappingWithSaved(knex, mappingOf(body.asQuery, 'nothing was read'), body.mapping);
      if (body.format === 'text' && mapping.pattern === undefined) throw refusal('no-pattern');
      response.json(previewOf(body.text, body.format, mapping));
    },
  );

  api.add('DELETE /mappings/:name', { does: 'Deletes a mapping.', status: 204 }, async ({ params }, response) => {
    await deleteMapping(knex, params.name);
    response.status(204).end();
  });
}

const shown = ({ name, columns, zone, pattern }: SavedMapping): MappingBody => ({ name, columns, zone, pattern });
