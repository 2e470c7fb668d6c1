import {
  type DifferenceBody,
  type DraftBody,
  type ProposalBody,
  pathOf,
  type RevisionBody,
} from '@jade-fence/contract';
import type { Knex } from 'knex';
import { refusal } from '../../fault/refusal.js';
import type { Proposal, Revision } from '../../model/revision.js';
import { stateToPublish } from '../../revision/chosen.js';
import { differenceOf } from '../../revision/difference.js';
import { LatelyReady } from '../../revision/lately-ready.js';
import { pointOf } from '../../revision/point.js';
import {
  approve,
  findProposal,
  isStale,
  openProposals,
  pageOfProposals,
  propose,
  withdraw,
} from '../../revision/proposals.js';
import { publish } from '../../revision/publish.js';
import { restore } from '../../revision/restore.js';
import { findRevision, pageOfRevisions } from '../../revision/store.js';
import { currentSettings } from '../../setting/settings.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { documentsOf } from '../../workspace/store.js';
import { written } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { PageQuery } from '../input/page-query.js';
import {
  ApproveInput,
  DifferenceQuery,
  DiscardInput,
  ProposeInput,
  PublishInput,
  RestoreInput,
} from '../input/revision-input.js';
import { numberOf } from '../number-of.js';
import { objectBody } from './objects.js';

/** The draft and what is published of it. */
export function revisionRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  draftRoutes(api, knex, states);
  proposalRoutes(api, knex, states);

  api.add(
    'GET /revisions',
    { does: 'What was published, the newest first.', query: PageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfRevisions(knex, query);
      response.json({ revisions: items.map(revisionBody), next });
    },
  );

  api.add(
    'GET /revisions/:number',
    { does: 'One revision, with the texts of its objects.' },
    async ({ params }, response) => {
      const revision = await findRevision(knex, numberOf(params.number, 'revision'));
      const documents = await written(knex, await documentsOf(knex, revision.versionIds));
      response.json({ ...revisionBody(revision), contents: documents.map(objectBody) });
    },
  );

  api.add(
    'POST /revisions',
    { does: 'Publishes the draft as the next revision.', body: PublishInput, status: 201 },
    async ({ body, who }, response) => {
      const { fourEyes } = await currentSettings(knex);
      if (fourEyes) throw refusal('four-eyes');
      const { only, draft } = body;
      const revision = await publish(knex, states, { ...body, only, draft, by: who.name, approvedBy: null });
      response.status(201).location(revisionAt(revision)).json(revisionBody(revision));
    },
  );
}

const revisionAt = ({ number }: Revision): string => pathOf('GET /revisions/:number', { params: { number } });

function draftRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  const lately = new LatelyReady(knex, states);
  api.add('GET /draft', { does: 'The draft, and what prevents publishing it.' }, async (_asked, response) => {
    const ready = await lately.get();
    const open = await openProposals(knex);
    response.json({
      ...ready,
      proposals: await Promise.all(open.map((proposal) => proposalBody(knex, proposal))),
    } satisfies DraftBody);
  });

  api.add(
    'GET /differences',
    { does: 'What two states of the workspace do not have alike.', query: DifferenceQuery },
    async ({ query }, response) => {
      const [before, after] = await Promise.all([pointOf(knex, query.from), pointOf(knex, query.to)]);
      response.json(
        (await differenceOf(knex, states.readings, {
          before,
          after,
          lines: query.text,
        })) satisfies DifferenceBody,
      );
    },
  );

  api.add(
    'POST /draft/discard',
    { does: 'Makes the draft, or one object of it, what is published.', body: DiscardInput },
    async ({ body, who }, response) => {
      const to = await pointOf(knex, 'published');
      const order = { to, only: onlyOf(body), by: who.name, draft: body.draft, action: 'object-discarded' as const };
      response.json({ changes: await restore(knex, states.readings, order) });
    },
  );

  api.add(
    'POST /draft/restore',
    { does: 'Fetches a revision, or one object of it, back into the draft.', body: RestoreInput },
    async ({ body, who }, response) => {
      const to = await pointOf(knex, String(body.revision));
      const order = { to, only: onlyOf(body), by: who.name, draft: body.draft, action: 'object-restored' as const };
      response.json({ changes: await restore(knex, states.readings, order) });
    },
  );
}

function proposalRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  const shown = (proposal: Proposal) => proposalBody(knex, proposal);

  api.add(
    'GET /proposals',
    { does: 'Drafts that somebody asked another to publish, the newest first.', query: PageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfProposals(knex, query);
      response.json({ proposals: await Promise.all(items.map(shown)), next });
    },
  );

  api.add(
    'POST /proposals',
    { does: 'Asks for the draft to be published by somebody else.', body: ProposeInput, status: 201 },
    async ({ body, who }, response) => {
      response
        .status(201)
        .json(await shown(await propose(knex, states.readings, { message: body.message, only: body.only, by: who })));
    },
  );

  api.add(
    'GET /proposals/:id/differences',
    { does: 'What a proposal would change of what is published.' },
    async ({ params }, response) => {
      const { id, objects } = await findProposal(knex, numberOf(params.id, 'proposal'));
      const [before, draft] = await Promise.all([pointOf(knex, 'published'), pointOf(knex, 'draft')]);
      const state = objects && (await stateToPublish(knex, states.readings, objects, new Date()));
      const after = state
        ? { ...draft, documents: await documentsOf(knex, state.versionIds), countryDataId: state.countryDataId ?? null }
        : draft;
      const difference = await differenceOf(knex, states.readings, {
        before,
        after: { ...after, label: `proposal ${id}` },
        lines: false,
      });
      response.json(difference satisfies DifferenceBody);
    },
  );

  api.add(
    'POST /proposals/:id/approve',
    { does: 'Publishes what another has proposed.', body: ApproveInput, status: 201 },
    async ({ params, body, who }, response) => {
      const id = numberOf(params.id, 'proposal');
      const revision = await approve(knex, states, id, { by: who, acceptWarnings: body.acceptWarnings });
      response.status(201).location(revisionAt(revision)).json(revisionBody(revision));
    },
  );

  api.add('POST /proposals/:id/withdraw', { does: 'Takes a proposal back.' }, async ({ params, who }, response) => {
    const id = numberOf(params.id, 'proposal');
    await withdraw(knex, id, who);
    response.json(await shown(await findProposal(knex, id)));
  });
}

/** One object, by both its kind and name; or none. */
function onlyOf({ kind, name }: DiscardInput) {
  if ((kind === undefined) !== (name === undefined)) throw refusal('kind-and-name');
  return kind !== undefined && name !== undefined ? { kind, name } : undefined;
}

function revisionBody({ number, message, author, approvedBy, publishedAt, versionIds }: Revision): RevisionBody {
  const at = publishedAt.toISOString();
  return { revision: number, message, author, approvedBy, publishedAt: at, objects: versionIds.length };
}

async function proposalBody(knex: Knex, proposal: Proposal): Promise<ProposalBody> {
  const { id, message, author, draft, objects, state, proposedAt } = proposal;
  const shown = state === 'open' && (await isStale(knex, proposal)) ? 'stale' : state;
  return {
    ...{ proposal: id, message, author, draft, state: shown },
    objects: objects?.map(({ kind, name }) => ({ kind, name })) ?? null,
    proposedAt: proposedAt.toISOString(),
  };
}
