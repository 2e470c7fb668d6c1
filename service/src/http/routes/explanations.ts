import {
  createRouter,
  explain,
  REQUEST_FIELDS,
  type Request,
  readRequest,
  subjectOf,
  tellLineFault,
} from '@jade-fence/core';
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
      const at = instantOf(input.at);
      // Rules by schedule are judged as they are now, unless another time is told, or null for one that is not seen.
      const request = requestIn({ time: at.toISOString(), ...input.request });
      const prepared = await states.get(await namedState(knex, input.state, at));
      const { policies } = prepared.workspace;
      const named = input.policy === undefined ? undefined : policies.get(input.policy);
      if (input.policy !== undefined && !named)
        throw notFound('policy', input.policy, [...policies.keys()], 'Apply a workspace with that policy first.');
      const policy = named ?? createRouter(prepared).route(request);
      const explanation = policy ? explain(policy, subjectOf(request, policy, prepared), prepared) : null;
      response.json({ request: requestBody(request), explanation } satisfies ExplainedBody);
    },
  );
}

/** The request as a log's would be read; but what cannot be read is refused, since it would be unseen, and told at once. */
function requestIn(fields: Record<string, unknown>): Request {
  const read = readRequest(fields);
  const faults = 'fault' in read ? [{ ...read.fault, field: undefined }] : (read.faults ?? []);
  const unknown = Object.keys(fields).filter((name) => !(REQUEST_FIELDS as readonly string[]).includes(name));
  const issues = [
    ...unknown.map((name) => ({ path: `request.${name}`, what: `a request has no field ${name}` })),
    ...faults.map((fault) => ({ path: `request.${fault.field ?? ''}`, what: tellLineFault(fault) })),
  ];
  if (unknown.length > 0)
    throw new Problem(400, 'invalid-input', 'The body does not hold.', {
      issues,
      remedy: `The fields of a request are ${REQUEST_FIELDS.join(', ')}.`,
    });
  const [first] = faults;
  if (first) throw new Problem(422, first.code, `${tellLineFault(first)}.`, { issues });
  return (read as { readonly request: Request }).request;
}
