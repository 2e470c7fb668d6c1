import type { Knex } from 'knex';
import { currentState, revisionState, type WorkspaceState } from '../workspace/state.js';
import { revisionNamed } from './store.js';

/** The state that is called `draft`, `published`, or by the number of a revision. */
export async function namedState(knex: Knex, name: string, at: Date): Promise<WorkspaceState> {
  const revision = await revisionNamed(knex, name);
  return revision ? revisionState(knex, revision, at) : currentState(knex, at);
}
