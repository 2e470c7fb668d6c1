import type { ChecksBody, EffectiveBody } from '@jade-fence/contract';
import { formatAddress, parseAddress } from '@jade-fence/core/address';
import { runChecks, withExpectation } from '@jade-fence/core/checking';
import { effectivePolicy } from '@jade-fence/core/effective';
import { createRouter, type Prepared, subjectOf } from '@jade-fence/core/engine';
import { makeRequest, type Request } from '@jade-fence/core/request';
import type { Knex } from 'knex';
import { notFound } from '../../fault/not-found.js';
import { refusal } from '../../fault/refusal.js';
import { findRequest } from '../../replay/requests.js';
import { findReplay } from '../../replay/store.js';
import { namedState } from '../../revision/named-state.js';
import { applyFiles } from '../../workspace/apply.js';
import { findObject } from '../../workspace/objects.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { currentDocuments } from '../../workspace/store.js';
import { written } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { ChecksQuery, EffectiveQuery } from '../input/check-input.js';
import { ExpectInput } from '../input/expect-input.js';
import { numberOf } from '../number-of.js';
import { storedObject } from './objects.js';

/** What rules answer without any log: checks, and what they can do to one client. */
export function checkRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.add(
    'GET /checks',
    { does: 'Runs the checks of the draft, or of another state.', query: ChecksQuery },
    async ({ query }, response) => {
      const now = new Date();
      const prepared = await states.get(await namedState(knex, query.state, now));
      const all = prepared.workspace.checks;
      const named = query.name === undefined ? undefined : all.get(query.name);
      if (query.name !== undefined && !named)
        throw notFound('check', query.name, [...all.keys()], 'The workspace has none of that name.');
      const checks = runChecks(prepared, named ? [named] : all.values(), now.getTime());
      const failing = checks.reduce((sum, grid) => sum + grid.failing, 0);
      response.json({ state: query.state, checks, failing } satisfies ChecksBody);
    },
  );

  api.add(
    'POST /replays/:id/requests/:number/check',
    { does: 'Writes a request of a replay into a check of the draft.', body: ExpectInput, status: 201 },
    async ({ params, body, who }, response) => {
      const replay = await findReplay(knex, numberOf(params.id, 'replay'));
      const seen = await findRequest(knex, replay, numberOf(params.number, 'request'));
      const kept = (await currentDocuments(knex)).filter(({ kind }) => kind === 'probe' || kind === 'check');
      const stored = await written(knex, kept);
      const textOf = (kind: string, name: string) =>
        stored.find((each) => each.kind === kind && each.name === name)?.text;
      const { probe, check: checkText } = withExpectation(
        body.check,
        { ...seen, verdict: body.expect ?? seen.verdict },
        { probe: (name) => textOf('probe', name), check: textOf('check', body.check) },
      );
      const files = [
        { name: `probe ${probe.name}`, text: probe.text },
        { name: `check ${body.check}`, text: checkText },
      ];
      const options = { exact: false, dryRun: false, by: who.name, draft: undefined, overwrite: true, byFile: false };
      await applyFiles(knex, states.readings, files, options);
      const check = await storedObject(knex, await findObject(knex, 'check', body.check));
      response.status(201).json({ check, probe: probe.name });
    },
  );

  api.add(
    'GET /effective',
    { does: 'What the policies can do to a probe or an address.', query: EffectiveQuery },
    async ({ query }, response) => {
      const prepared = await states.get(await namedState(knex, query.state, new Date()));
      response.json(effectiveOf(prepared, query));
    },
  );
}

function effectiveOf(prepared: Prepared, query: EffectiveQuery): EffectiveBody {
  const { policies } = prepared.workspace;
  if (query.policy !== undefined && !policies.has(query.policy))
    throw notFound('policy', query.policy, [...policies.keys()], 'The workspace has none of that name.');
  const { request, country } = clientOf(prepared, query);
  const outbound = createRouter(prepared).byClient(request);
  // A client may visit every site; outbound, one policy speaks for it.
  const asked = [...policies.values()].filter((policy) =>
    query.policy === undefined
      ? policy.stance !== 'off' && (policy.covers.hosts.length > 0 || policy === outbound)
      : policy.name === query.policy,
  );
  const shown = asked.map((policy) => {
    const subject = subjectOf(request, policy, prepared, country);
    return { effective: effectivePolicy(policy, subject, prepared), country: subject.origin?.country ?? null };
  });
  return {
    client: request.peer ? formatAddress(request.peer) : null,
    probe: query.probe ?? null,
    country: shown[0]?.country ?? null,
    policies: shown.map(({ effective }) => effective),
  };
}

/** The client, as a request that shows nothing but it. */
function clientOf(prepared: Prepared, { probe: name, client }: EffectiveQuery): { request: Request; country?: string } {
  const { probes } = prepared.workspace;
  if ((name === undefined) === (client === undefined)) throw refusal('which-client');
  if (name === undefined) {
    const peer = parseAddress(client as string);
    if (!peer) throw refusal('bad-address', { text: client });
    return { request: makeRequest({ peer }) };
  }
  const probe = probes.get(name);
  if (!probe) throw notFound('probe', name, [...probes.keys()], 'The workspace has none of that name.');
  const { client: peer, user, groups, agent, headers, country } = probe;
  return { request: makeRequest({ peer, user, groups, agent, headers }), ...(country !== undefined && { country }) };
}
