import type { Readiness } from '@jade-fence/contract';
import { type CheckedGrid, runChecks } from '@jade-fence/core/checking';
import { type Finding, review } from '@jade-fence/core/review';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { countryDataSet } from '../country/store.js';
import { notify } from '../database/session.js';
import { refusal } from '../fault/refusal.js';
import { Proposal, Revision } from '../model/revision.js';
import { draftNumber, type ExpectedDraft, requireDraft, withDraft } from '../workspace/draft.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { revisionState, type WorkspaceState } from '../workspace/state.js';
import { areChanged, type Chosen, stateToPublish } from './chosen.js';
import { editorsOf } from './editors.js';
import { publishedRevision } from './store.js';

const MOST_LISTED = 100;

export interface PublishOrder {
  readonly message: string;
  readonly by: string;
  readonly approvedBy: string | null;
  /** Publish in spite of new warnings. */
  readonly acceptWarnings: boolean;
  /** The draft that was looked at. */
  readonly draft: ExpectedDraft;
  /** The objects of the draft to publish alone; undefined: all of it. */
  readonly only: readonly Chosen[] | undefined;
  /** The proposal that it is of. */
  readonly proposal?: number;
}

/** Reviews the draft, or chosen objects of it with what is published, and runs the checks, as publishing does. */
export async function readinessOf(
  knex: Knex,
  states: PreparedStates,
  now: Date,
  only?: readonly Chosen[],
): Promise<Readiness> {
  // The number first: what changes behind it makes another of the draft, and is noticed by it.
  const draft = await draftNumber(knex);
  const state = await stateToPublish(knex, states.readings, only, now);
  const published = await publishedRevision(knex);
  const before = published && (await revisionState(knex, published, now));
  const prepared = await states.get(state);
  const known = new Set(before ? (await findingsOf(knex, states, before)).map(keyOf) : []);
  const findings = await findingsOf(knex, states, state);
  return {
    draft,
    published: published?.number ?? null,
    changed: before ? !sameState(before, state) : !isEmpty(state),
    newFindings: findings.filter((finding) => !known.has(keyOf(finding))),
    checks: runChecks(prepared, prepared.workspace.checks.values(), now.getTime()),
  };
}

/**
 * Publishes the draft as the next revision. Checks that fail stop it, and so do warnings that what is published does not
 * have, unless they are accepted.
 */
export async function publish(knex: Knex, states: PreparedStates, order: PublishOrder): Promise<Revision> {
  // Read, reviewed and checked outside the lock, which others wait for; what was changed meanwhile is seen inside it.
  const { message, by, approvedBy, proposal, only } = order;
  const ready = await readinessOf(knex, states, new Date(), only);
  requireDraft(ready.draft, order.draft);
  requireReady(ready, order.acceptWarnings);
  return withDraft(knex, ready.draft, async (trx) => {
    const state = await stateToPublish(trx, states.readings, only, new Date());
    const last = (await publishedRevision(trx))?.number ?? null;
    if (last !== ready.published) throw refusal('published-meanwhile', { revision: last });
    if (proposal !== undefined) await requireProposal(trx, proposal, approvedBy);
    const accepted = ready.newFindings.filter(({ severity }) => severity === 'warning').map(({ what }) => what);
    return addRevision(trx, { state, message, by, approvedBy, last, accepted, partial: only !== undefined });
  });
}

/** Under the lock of the draft: the proposal is open still, and who approves it has edited nothing that it brings. */
async function requireProposal(trx: Knex.Transaction, id: number, approvedBy: string | null): Promise<void> {
  const proposal = await Proposal.query(trx).findById(id).forUpdate();
  if (proposal === undefined) throw refusal('proposal-gone', { id });
  if (proposal.state !== 'open') throw refusal(`proposal-${proposal.state}`, { id });
  if (proposal.objects && (await areChanged(trx, proposal.objects))) throw refusal('draft-changed/proposal', { id });
  const editors = await editorsOf(trx, proposal.objects);
  if (approvedBy !== null && editors.has(approvedBy)) throw refusal('own-edits');
  await Proposal.query(trx).findById(id).patch({ state: 'published' });
}

export interface NewRevision {
  readonly state: WorkspaceState;
  readonly message: string;
  readonly by: string;
  readonly approvedBy: string | null;
  /** The revision that is in force until now. */
  readonly last: number | null;
  /** The new warnings of the review that were accepted. */
  readonly accepted?: readonly string[];
  /** Whether there are edits of the draft that it has not. */
  readonly partial: boolean;
}

/** Puts a state in force, where nobody else can do so meanwhile. Every service hears of it when the transaction is through. */
export async function addRevision(
  trx: Knex.Transaction,
  { state, message, by, approvedBy, last, partial, accepted = [] }: NewRevision,
): Promise<Revision> {
  const number = (last ?? 0) + 1;
  const revision = await Revision.query(trx)
    .insert({
      ...{ number, message, author: by, approvedBy, partial },
      versionIds: [...state.versionIds],
      countryDataId: state.countryDataId ?? null,
    })
    .returning('*');
  await note(trx, [
    {
      ...{ actor: approvedBy ?? by, action: 'published', kind: 'revision', name: String(number) },
      detail: { message, by, ...(accepted.length > 0 && { acceptedWarnings: accepted.slice(0, MOST_LISTED) }) },
    },
  ]);
  await notify(trx, { type: 'published', revision: number });
  return revision;
}

function requireReady({ changed, newFindings, checks }: Readiness, acceptWarnings: boolean): void {
  if (!changed) throw refusal('nothing-to-publish');
  requireChecks(checks);
  const warnings = newFindings.filter(({ severity }) => severity === 'warning');
  if (warnings.length > 0 && !acceptWarnings)
    throw refusal(
      'warnings',
      {},
      {
        issues: warnings.map(({ policy, rule, object, what, edit }) => ({
          path: [policy, rule, object && `${object.kind} ${object.name}`].filter((part) => part !== null).join(' / '),
          what: `${what}. ${edit}.`,
        })),
      },
    );
}

/** Refuses what its own checks do not allow. */
export function requireChecks(checks: readonly CheckedGrid[]): void {
  const failing = checks.filter((grid) => grid.failing > 0);
  if (failing.length > 0)
    throw refusal(
      'checks-fail',
      {},
      {
        issues: failing.flatMap(({ check, cells }) =>
          cells
            .filter(({ holds }) => !holds)
            .map(({ probe, destination, expected, verdict, summary, mends }) => ({
              path: `${check}: ${probe} at ${destination}`,
              what: [`${verdict}, not ${expected.verdict}. ${summary}`, ...mends.map((mend) => mend.what)].join(' '),
            })),
        ),
      },
    );
}

async function findingsOf(knex: Knex, states: PreparedStates, state: WorkspaceState): Promise<Finding[]> {
  return review(await states.get(state), { countryDate: await countryDateOf(knex, state.countryDataId) });
}

async function countryDateOf(knex: Knex, id: number | undefined): Promise<number | undefined> {
  const set = id === undefined ? undefined : await countryDataSet(knex, id);
  return set && Date.parse(`${set.date}T00:00:00Z`);
}

const keyOf = ({ code, policy, rule, object, what }: Finding): string =>
  JSON.stringify([code, policy, rule, object, what]);

/** Whether there is nothing in it that could be published. */
const isEmpty = ({ versionIds, countryDataId }: WorkspaceState): boolean =>
  versionIds.length === 0 && countryDataId === undefined;

function sameState(a: WorkspaceState, b: WorkspaceState): boolean {
  const versions = (state: WorkspaceState) => JSON.stringify(state.versionIds.toSorted((x, y) => x - y));
  return a.countryDataId === b.countryDataId && versions(a) === versions(b);
}
