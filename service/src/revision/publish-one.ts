import { runChecks } from '@jade-fence/core/checking';
import type { DocumentKind } from '@jade-fence/core/text';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import type { Revision } from '../model/revision.js';
import { currentSettings } from '../setting/settings.js';
import { keyOf } from '../workspace/document.js';
import { withDraft } from '../workspace/draft.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { revisionState, type WorkspaceState } from '../workspace/state.js';
import { currentDocument, documentsOf } from '../workspace/store.js';
import { addRevision, requireChecks } from './publish.js';
import { publishedRevision } from './store.js';

export interface PublishOneOrder {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly message: string;
  readonly by: string;
}

/** Publishes what is in force with one object of the draft in place of its own, and nothing else of the draft. */
export async function publishOne(knex: Knex, states: PreparedStates, order: PublishOneOrder): Promise<Revision> {
  const { fourEyes } = await currentSettings(knex);
  if (fourEyes) throw refusal('four-eyes');
  const before = await publishedRevision(knex);
  if (!before) throw refusal('nothing-published');
  const state = await withObject(knex, await revisionState(knex, before, new Date()), order);
  const prepared = await states.get(state);
  requireChecks(runChecks(prepared, prepared.workspace.checks.values(), state.at.getTime()));
  return withDraft(knex, undefined, async (trx) => {
    const now = await publishedRevision(trx);
    if (now?.number !== before.number) throw refusal('published-meanwhile', { revision: now?.number });
    return addRevision(trx, {
      state,
      message: order.message,
      by: order.by,
      approvedBy: null,
      last: before.number,
      partial: true,
    });
  });
}

async function withObject(
  knex: Knex,
  state: WorkspaceState,
  { kind, name }: Pick<PublishOneOrder, 'kind' | 'name'>,
): Promise<WorkspaceState> {
  const own = await currentDocument(knex, kind, name);
  if (!own) throw refusal('not-found', { kind, name });
  const others = await documentsOf(knex, state.versionIds);
  const kept = others.filter((document) => keyOf(document) !== keyOf(own)).map(({ versionId }) => versionId);
  return { ...state, versionIds: [...kept, own.versionId] };
}
