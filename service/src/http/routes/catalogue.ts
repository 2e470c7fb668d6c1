import type { AllowedBody, CatalogueMergedBody } from '@jade-fence/contract';
import { allNeeds } from '@jade-fence/core/application';
import { CATALOGUE_KINDS, type CatalogueKind, catalogueRows, mergedCatalogue } from '@jade-fence/core/catalogue';
import { withNewRule } from '@jade-fence/core/policy';
import type { Knex } from 'knex';
import { catalogueCsv, readCatalogueCsv } from '../../catalogue/csv.js';
import { notFound } from '../../fault/not-found.js';
import { applyFiles } from '../../workspace/apply.js';
import { findObject, putObject } from '../../workspace/objects.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import { currentDocuments } from '../../workspace/store.js';
import { textOfVersion, written } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { AllowInput, CatalogueInput } from '../input/catalogue-input.js';

/** Applications do not work without those that they need: allowing one allows these with it. */
export function catalogueRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  exchangeRoutes(api, knex, states);
  api.add(
    'POST /policies/:name/allow',
    {
      does: 'Adds a rule to a policy of the draft that allows an application with all that it needs.',
      body: AllowInput,
      status: 201,
    },
    async ({ params, body, who }, response) => {
      const { applications } = (await states.get(await currentState(knex, new Date(0)))).workspace;
      const { application, above, rule = `allow-${application}` } = body;
      if (!applications.has(application))
        throw notFound('application', application, [...applications.keys()], 'Bring it into the workspace first.');
      const needs = allNeeds(applications, application);
      const stored = await findObject(knex, 'policy', params.name);
      const note = needs.length > 0 ? `With what it needs: ${needs.join(', ')}` : undefined;
      const text = withNewRule(
        await textOfVersion(knex, stored.versionId),
        { rule, note, when: { application: [application, ...needs] }, then: 'allow' },
        above,
      );
      if (text === undefined) {
        const { policies } = (await states.get(await currentState(knex, new Date(0)))).workspace;
        const names = policies.get(params.name)?.rules.map(({ name }) => name) ?? [];
        throw notFound('rule', above ?? '', names, `The policy has: ${names.join(', ')}.`);
      }
      const change = { kind: 'policy', name: params.name, expected: { version: stored.number }, by: who.name } as const;
      const { number } = await putObject(knex, states.readings, change, text);
      response
        .status(201)
        .json({ policy: params.name, rule, application, needs, version: number } satisfies AllowedBody);
    },
  );
}

/** Catalogues that come from others, and go to them. */
function exchangeRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  const documentsNow = async (kind: CatalogueKind) =>
    written(
      knex,
      (await currentDocuments(knex)).filter((document) => document.kind === kind),
    );

  for (const kind of CATALOGUE_KINDS) {
    api.add(
      `GET /catalogue/${kind}.csv`,
      { does: `Each ${kind} of the draft, as CSV.`, type: 'text/csv; charset=utf-8' },
      async (_asked, response) => {
        const rows = catalogueRows(kind, await documentsNow(kind));
        response.type('text/csv').attachment(`${kind}.csv`).send(catalogueCsv(kind, rows));
      },
    );

    api.add(
      `GET /catalogue/${kind}.yaml`,
      { does: `Each ${kind} of the draft, as a workspace file.`, type: 'application/yaml' },
      async (_asked, response) => {
        const texts = (await documentsNow(kind)).map(({ text }) => text);
        response.type('application/yaml').attachment(`${kind}.yaml`).send(texts.join('---\n'));
      },
    );

    api.add(
      `POST /catalogue/${kind}`,
      {
        does: `Merges what sources say of each ${kind} into the draft; the first that knows something says it.`,
        body: CatalogueInput,
        largest: '64mb',
      },
      async ({ body, who }, response) => {
        const sources = body.sources.map(({ name, csv }) => ({ name, rows: readCatalogueCsv(kind, name, csv) }));
        const merged = mergedCatalogue(kind, await documentsNow(kind), sources);
        const files = merged.documents.map(({ name, text }) => ({ name: `${kind} ${name}`, text }));
        const options = {
          exact: false,
          dryRun: body.dryRun,
          by: who.name,
          draft: undefined,
          overwrite: true,
          byFile: false,
        };
        const changes = files.length === 0 ? [] : (await applyFiles(knex, states.readings, files, options)).changes;
        const { passedOver, taken } = merged;
        const some = passedOver.slice(0, MOST_LISTED);
        response.json({
          ...{ dryRun: body.dryRun, changes, taken, passedOver: some, passedOverCount: passedOver.length },
        } satisfies CatalogueMergedBody);
      },
    );
  }
}

const MOST_LISTED = 100;
