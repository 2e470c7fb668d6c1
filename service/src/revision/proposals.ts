import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { refusal } from '../fault/refusal.js';
import { Proposal, type Revision } from '../model/revision.js';
import type { Someone } from '../people/someone.js';
import { draftNumber, withDraft } from '../workspace/draft.js';
import type { PreparedStates } from '../workspace/prepared.js';
import type { Readings } from '../workspace/readings.js';
import { areChanged, type Chosen, chosenVersions, stateToPublish } from './chosen.js';
import { publish } from './publish.js';

/** The newest proposals first. */
export function pageOfProposals(knex: Knex, page: PageAsked<number>): Promise<Page<Proposal, number>> {
  return pageOf(Proposal.query(knex), 'id', 'desc', page);
}

/** Those that wait for somebody to approve them, the newest first. */
export async function openProposals(knex: Knex): Promise<Proposal[]> {
  return Proposal.query(knex).where({ state: 'open' }).orderBy('id', 'desc');
}

/** The proposal with the number. Refuses with `unknown-proposal`. */
export async function findProposal(knex: Knex, id: number): Promise<Proposal> {
  const found = await Proposal.query(knex).findById(id);
  if (!found) throw refusal('unknown-proposal', { id });
  return found;
}

/** What is proposed: all of the draft, or chosen objects of it. */
export interface ProposeOrder {
  readonly message: string;
  readonly only: readonly Chosen[] | undefined;
  readonly by: Someone;
}

/** Asks for the draft, or chosen objects of it, to be published by somebody else. */
export async function propose(knex: Knex, readings: Readings, { message, only, by }: ProposeOrder): Promise<Proposal> {
  return withDraft(knex, undefined, async (trx) => {
    const draft = await draftNumber(trx);
    // Objects that are invalid by themselves are refused now, rather than at approval.
    await stateToPublish(trx, readings, only, new Date());
    const objects = only ? await chosenVersions(trx, only) : null;
    const proposal = await Proposal.query(trx)
      .insert({ message, author: by.name, draft, objects, state: 'open' })
      .returning('*');
    await note(trx, [
      {
        actor: by.name,
        action: 'proposed',
        kind: 'proposal',
        name: String(proposal.id),
        detail: { message, draft, ...(objects && { objects: objects.map(({ kind, name }) => `${kind} ${name}`) }) },
      },
    ]);
    return proposal;
  });
}

/** Whether the draft, or the objects that it is of, were changed since. */
export async function isStale(knex: Knex, { draft, objects }: Proposal): Promise<boolean> {
  return objects === null ? draft !== (await draftNumber(knex)) : areChanged(knex, objects);
}

/** Publishes what another has proposed, if it is still what it was then. */
export async function approve(
  knex: Knex,
  states: PreparedStates,
  id: number,
  { by, acceptWarnings }: { readonly by: Someone; readonly acceptWarnings: boolean },
): Promise<Revision> {
  const { author, message, draft, objects, state } = await findProposal(knex, id);
  requireOpen(id, state);
  if (author === by.name) throw refusal('own-proposal');
  const only = objects ?? undefined;
  const expected = objects ? undefined : draft;
  const order = { message, by: author, approvedBy: by.name, acceptWarnings, draft: expected, only, proposal: id };
  return publish(knex, states, order);
}

/** Takes a proposal back: its author, or an administrator. Refuses one that is no longer open. */
export async function withdraw(knex: Knex, id: number, by: Someone): Promise<void> {
  const { author, state } = await findProposal(knex, id);
  requireOpen(id, state);
  if (author !== by.name && by.role !== 'administrator') throw refusal('others-proposal', { author });
  await knex.transaction(async (trx) => {
    await Proposal.query(trx).findById(id).patch({ state: 'withdrawn' });
    await note(trx, [{ actor: by.name, action: 'withdrawn', kind: 'proposal', name: String(id) }]);
  });
}

function requireOpen(id: number, state: Proposal['state']): void {
  if (state !== 'open') throw refusal(`proposal-${state}`, { id });
}
