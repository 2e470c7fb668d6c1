import { allNeeds, withRule } from '@jade-fence/core';
import type { Knex } from 'knex';
import { findObject, putObject } from '../../workspace/objects.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentState } from '../../workspace/state.js';
import { textOfVersion } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import type { AllowedBody } from '../bodies.js';
import { AllowInput } from '../input/catalogue-input.js';
import { notFound } from '../suggestion.js';

/** Applications do not work without those that they need: allowing one allows these with it. */
export function catalogueRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.post(
    '/policies/:name/allow',
    {
      role: 'editor',
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
      const text = withRule(
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
