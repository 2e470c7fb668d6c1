import type { Knex } from 'knex';
import { countryDataInForce, packedCountryData } from '../country/store.js';
import type { GivenDocument } from '../model/replay.js';
import type { Revision } from '../model/revision.js';
import type { ReadableDocument } from './document.js';
import { keyOf } from './document.js';
import type { Parts } from './readings.js';
import { currentDocuments, documentsOf } from './store.js';
import { partsOf } from './texts.js';

/** Which state of the workspace to judge by: object versions, country data, and the instant for expiry. */
export interface WorkspaceState {
  readonly versionIds: readonly number[];
  readonly countryDataId: number | undefined;
  readonly at: Date;
  /** Documents that are not stored in the workspace, in place of its own of their names. */
  readonly instead?: readonly GivenDocument[] | undefined;
}

/** The draft does not depend on the instant; always the same one keeps prepared states in use. */
export const ANY_INSTANT = new Date(0);

/** What is to be prepared. */
export interface StateParts {
  readonly documents: readonly ReadableDocument[];
  readonly country: { readonly id: number; readonly packed: Uint8Array } | undefined;
  readonly at: Date;
}

/** All that a state is prepared from. Plain data, which can go to another thread. */
export type WholeParts = StateParts & { readonly parts: Parts };

/** The present state of the workspace. */
export async function currentState(knex: Knex, at: Date): Promise<WorkspaceState> {
  const documents = await currentDocuments(knex);
  const country = await countryDataInForce(knex);
  return { versionIds: documents.map((document) => document.versionId), countryDataId: country?.id, at };
}

/** The state that was published. */
export const revisionState = ({ versionIds, countryDataId }: Revision, at: Date): WorkspaceState => ({
  versionIds,
  countryDataId: countryDataId ?? undefined,
  at,
});

/** The documents and the data of a state of the workspace, read from the database. */
export async function stateParts(
  knex: Knex,
  { versionIds, countryDataId, at, instead = [] }: WorkspaceState,
): Promise<StateParts> {
  const replaced = new Set(instead.map(keyOf));
  const stored = (await documentsOf(knex, versionIds)).filter((document) => !replaced.has(keyOf(document)));
  const country =
    countryDataId === undefined
      ? undefined
      : { id: countryDataId, packed: await packedCountryData(knex, countryDataId) };
  return { documents: [...stored, ...instead], country, at };
}

/** Equal for states that are prepared alike. */
export const stateKey = ({ versionIds, countryDataId, at, instead = [] }: WorkspaceState): string =>
  JSON.stringify([versionIds, countryDataId, at.getTime(), instead]);

/** The state with all that its documents are made of. */
export async function wholeParts(knex: Knex, state: WorkspaceState): Promise<WholeParts> {
  const [shown, parts] = await Promise.all([stateParts(knex, state), partsOf(knex, state.versionIds)]);
  return { ...shown, parts };
}
