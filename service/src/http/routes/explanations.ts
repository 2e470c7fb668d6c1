import type { ExplainedGivenBody, NoticeBody } from '@jade-fence/contract';
import { createRouter, type Explanation, explain, type Prepared, subjectOf } from '@jade-fence/core/engine';
import { lineFaultText, REQUEST_FIELDS, readRequest } from '@jade-fence/core/log';
import { EXAMPLE_REFERENCE, noticeFacts, noticeProblem } from '@jade-fence/core/notice';
import type { Policy } from '@jade-fence/core/policy';
import type { Request } from '@jade-fence/core/request';
import type { Knex } from 'knex';
import { notFound } from '../../fault/not-found.js';
import { Refusal } from '../../fault/refusal.js';
import { requestBody } from '../../replay/requests.js';
import { namedState } from '../../revision/named-state.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import { BLOCKED, exampleNotice } from '../example-notice.js';
import { ExplainInput } from '../input/replay-input.js';
import { instantOf } from '../instant.js';
import { invalidInput } from '../validate.js';

/** The explanation of a given request, by the draft. */
export function explanationRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.add(
    'POST /explanations',
    {
      does: 'Explains what the rules say to a request that is given.',
      body: ExplainInput,
      largest: '256kb',
    },
    async ({ body: input }, response) => {
      const at = instantOf(input.at);
      // Rules by schedule are judged now, unless another time is given, or null for an unseen one.
      const request = requestIn({ time: at.toISOString(), ...input.request });
      const prepared = await states.get(await namedState(knex, input.state, at));
      const { policies } = prepared.workspace;
      const named = input.policy === undefined ? undefined : policies.get(input.policy);
      if (input.policy !== undefined && !named)
        throw notFound('policy', input.policy, [...policies.keys()], 'Apply a workspace with that policy first.');
      const policy = named ?? createRouter(prepared).route(request);
      const explanation = policy ? explain(policy, subjectOf(request, policy, prepared), prepared) : null;
      const notice = policy && explanation ? shownTo(request, policy, explanation, prepared) : null;
      response.json({ request: requestBody(request), explanation, notice } satisfies ExplainedGivenBody);
    },
  );

  api.add(
    'GET /notices/:name',
    { does: 'A notice of the draft as a stopped client sees it, of a made-up request.' },
    async ({ params }, response) => {
      const { workspace } = await states.get(await currentState(knex, ANY_INSTANT));
      const notice = workspace.notices.get(params.name);
      if (!notice)
        throw notFound('notice', params.name, [...workspace.notices.keys()], 'The workspace has no other notice.');
      response.json(exampleNotice(notice, Date.now()) satisfies NoticeBody);
    },
  );
}

/** What the client of a request that is stopped would be shown; by a made-up reference, since nothing is recorded. */
function shownTo(request: Request, policy: Policy, explanation: Explanation, prepared: Prepared): NoticeBody | null {
  const rule = policy.rules.find(({ name }) => name === explanation.decidedBy);
  const action = rule?.then ?? policy.default;
  if (explanation.effect === 'allow' || !('notice' in action)) return null;
  const notice = action.notice && prepared.workspace.notices.get(action.notice.name);
  if (!notice) return null;
  const facts = noticeFacts({
    ...{ host: request.host, path: request.path, policy: policy.name, rule: rule?.name },
    client: explanation.client.address ?? undefined,
    country: explanation.country.country ?? undefined,
    ...{ now: request.time ?? Date.now(), reference: EXAMPLE_REFERENCE },
  });
  const status = action.type === 'block' ? action.status : BLOCKED;
  return { notice: notice.name, ...noticeProblem(notice, status, facts) };
}

/** The request as a log's would be read; a value that cannot be read is refused, since it would be unseen. */
function requestIn(fields: Record<string, unknown>): Request {
  const read = readRequest(fields);
  const faults = 'fault' in read ? [{ ...read.fault, field: undefined }] : (read.faults ?? []);
  const unknown = Object.keys(fields).filter((name) => !(REQUEST_FIELDS as readonly string[]).includes(name));
  const issues = [
    ...unknown.map((name) => ({ path: `request.${name}`, what: `a request has no field ${name}` })),
    ...faults.map((fault) => ({ path: `request.${fault.field ?? ''}`, what: lineFaultText(fault) })),
  ];
  if (unknown.length > 0)
    throw invalidInput('body', issues, `The fields of a request are ${REQUEST_FIELDS.join(', ')}.`);
  const [first] = faults;
  if (first) throw new Refusal(first.code, `${lineFaultText(first)}.`, { issues });
  return (read as { readonly request: Request }).request;
}
