import { createRouter, explain, readRequest, subjectOf, tellLineFault } from '@jade-fence/core';
import type { Knex } from 'knex';
import { requestBody } from '../../replay/requests.js';
import { namedState } from '../../workspace/named-state.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import type { Api } from '../api.js';
import type { ExplainedBody } from '../bodies.js';
import { ExplainInput } from '../input/replay-input.js';
import { instantOf } from '../instant.js';
import { Problem } from '../problem.js';
import { notFound } from '../suggestion.js';

/** The explanation of a request that is given, by the workspace as it stands. */
export function explanationRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.post(
    '/explanations',
    {
      role: 'viewer',
      does: 'Explains what the rules say to a request that is given.',
      body: ExplainInput,
      largest: '256kb',
    },
    async ({ body: input }, response) => {
      const read = readRequest({ ...input.request });
      if ('fault' in read) throw new Problem(422, read.fault.code, `${tellLineFault(read.fault)}.`);
      const prepared = await states.get(await namedState(knex, input.state, instantOf(input.at)));
      const { policies } = prepared.workspace;
      const named = input.policy === undefined ? undefined : policies.get(input.policy);
      if (input.policy !== undefined && !named)
        throw notFound('policy', input.policy, [...policies.keys()], 'Apply a workspace with that policy first.');
      const policy = named ?? createRouter(prepared).route(read.request);
      const explanation = policy ? explain(policy, subjectOf(read.request, policy, prepared), prepared) : null;
      response.json({ request: requestBody(read.request), explanation } satisfies ExplainedBody);
    },
  );
}
