import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { Problem } from '../http/problem.js';
import { Proposal, type Revision } from '../model/revision.js';
import type { Someone } from '../people/someone.js';
import { draftNumber, withDraft } from '../workspace/draft.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { publish } from './publish.js';

export async function allProposals(knex: Knex): Promise<Proposal[]> {
  return Proposal.query(knex).orderBy('id', 'desc').limit(200);
}

export async function findProposal(knex: Knex, id: number): Promise<Proposal> {
  const found = await Proposal.query(knex).findById(id);
  if (!found) throw new Problem(404, 'unknown-proposal', `There is no proposal ${id}.`);
  return found;
}

/** Asks for the draft to be published by somebody else. */
export async function propose(knex: Knex, message: string, by: Someone): Promise<Proposal> {
  return withDraft(knex, undefined, async (trx) => {
    const draft = await draftNumber(trx);
    const proposal = await Proposal.query(trx)
      .insert({ message, author: by.name, draft, state: 'open' })
      .returning('*');
    await note(trx, [
      { actor: by.name, action: 'proposed', kind: 'proposal', name: String(proposal.id), detail: { message, draft } },
    ]);
    return proposal;
  });
}

/** Publishes what another has proposed, if the draft is still what it was then. */
export async function approve(
  knex: Knex,
  states: PreparedStates,
  id: number,
  { by, acceptWarnings }: { readonly by: Someone; readonly acceptWarnings: boolean },
): Promise<Revision> {
  const { author, message, draft, state } = await findProposal(knex, id);
  requireOpen(id, state);
  if (author === by.name)
    throw new Problem(403, 'own-proposal', 'Nobody approves what they have proposed themselves.', {
      remedy: 'Ask another publisher.',
    });
  const order = { message, by: author, approvedBy: by.name, acceptWarnings, draft, proposal: id };
  return publish(knex, states, order);
}

export async function withdraw(knex: Knex, id: number, by: Someone): Promise<void> {
  const { author, state } = await findProposal(knex, id);
  requireOpen(id, state);
  if (author !== by.name && by.role !== 'administrator')
    throw new Problem(403, 'others-proposal', `The proposal is ${author}’s.`);
  await knex.transaction(async (trx) => {
    await Proposal.query(trx).findById(id).patch({ state: 'withdrawn' });
    await note(trx, [{ actor: by.name, action: 'withdrawn', kind: 'proposal', name: String(id) }]);
  });
}

function requireOpen(id: number, state: Proposal['state']): void {
  if (state !== 'open') throw new Problem(409, `proposal-${state}`, `Proposal ${id} is ${state} already.`);
}
