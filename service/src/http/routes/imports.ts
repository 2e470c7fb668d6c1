import type { Knex } from 'knex';
import { note } from '../../audit/audit.js';
import type { Imports } from '../../import/imports.js';
import { findImport, pageOfImports } from '../../import/store.js';
import type { Api } from '../api.js';
import { PageQuery } from '../input/page-query.js';
import { numberOf } from '../number-of.js';
import { type ProgressWatch, streamProgress } from '../progress.js';
import { importBody } from './import-body.js';

export interface ImportParts {
  readonly knex: Knex;
  readonly imports: Imports;
  readonly watch: ProgressWatch;
}

/** Imports of logs, which `POST /logs` begins: watching and cancelling them. */
export function importRoutes(api: Api, { knex, imports, watch }: ImportParts): void {
  const importOf = (params: { readonly id: string }) => findImport(knex, numberOf(params.id, 'import'));

  api.add(
    'GET /imports',
    { does: 'Imports of logs, the newest first.', query: PageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfImports(knex, query);
      response.json({ imports: items.map(importBody), next });
    },
  );

  api.add('GET /imports/:id', { does: 'One import of a log.' }, async ({ params }, response) => {
    response.json(importBody(await importOf(params)));
  });

  api.add(
    'GET /imports/:id/progress',
    {
      does: 'The progress of an import as server-sent events, until it ends.',
      type: 'text/event-stream',
    },
    async ({ params }, response) => {
      const { id } = await importOf(params);
      await streamProgress(response, watch, { kind: 'import', id }, async () => importBody(await findImport(knex, id)));
    },
  );

  api.add('POST /imports/:id/cancel', { does: 'Asks an import to stop.' }, async ({ params, who }, response) => {
    const { id } = await importOf(params);
    await imports.cancel(id);
    await note(knex, [{ actor: who.name, action: 'import-cancelled', kind: 'import', name: String(id) }]);
    response.json(importBody(await findImport(knex, id)));
  });
}
