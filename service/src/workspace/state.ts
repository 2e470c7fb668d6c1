import type { Knex } from 'knex';
import { countryDataInForce, packedCountryData } from '../country/store.js';
import type { GivenDocument } from '../model/replay.js';
import type { Revision } from '../model/revision.js';
import type { PackedLoad } from '../resolution/states.js';
import { loadsOf, newestResolutions, packedLoads } from '../resolution/store.js';
import type { ReadableDocument, StoredDocument } from './document.js';
import { keyOf } from './document.js';
import type { Parts } from './readings.js';
import { currentDocuments, documentsOf } from './store.js';
import { partsOf } from './texts.js';

/** Which state of the workspace to judge by: object versions, country data, and the instant for expiry. */
export interface WorkspaceState {
  readonly versionIds: readonly number[];
  readonly countryDataId: number | undefined;
  /** The newest load of resolutions that counts; undefined: none does. */
  readonly resolutionsId: number | undefined;
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
  readonly resolutionsId: number | undefined;
  readonly at: Date;
}

/** All that a state is prepared from. Plain data, which can go to another thread. */
export type WholeParts = StateParts & { readonly parts: Parts; readonly resolutions: readonly PackedLoad[] };

/** The present state of the workspace, by the documents of the draft where these have been read. */
export async function currentState(knex: Knex, at: Date, given?: readonly StoredDocument[]): Promise<WorkspaceState> {
  const documents = given ?? (await currentDocuments(knex));
  const country = await countryDataInForce(knex);
  const versionIds = documents.map((document) => document.versionId);
  return { versionIds, countryDataId: country?.id, resolutionsId: await newestResolutions(knex), at };
}

/** The state that was published, with the present resolutions: these are of no revision. */
export const revisionState = async (
  knex: Knex,
  { versionIds, countryDataId }: Revision,
  at: Date,
): Promise<WorkspaceState> => ({
  versionIds,
  countryDataId: countryDataId ?? undefined,
  resolutionsId: await newestResolutions(knex),
  at,
});

/** The documents and the data of a state of the workspace, read from the database. */
export async function stateParts(
  knex: Knex,
  { versionIds, countryDataId, resolutionsId, at, instead = [] }: WorkspaceState,
): Promise<StateParts> {
  const replaced = new Set(instead.map(keyOf));
  const stored = (await documentsOf(knex, versionIds)).filter((document) => !replaced.has(keyOf(document)));
  const country =
    countryDataId === undefined
      ? undefined
      : { id: countryDataId, packed: await packedCountryData(knex, countryDataId) };
  return { documents: [...stored, ...instead], country, resolutionsId, at };
}

/** Equal for states that are prepared alike. */
export const stateKey = ({ versionIds, countryDataId, resolutionsId, at, instead = [] }: WorkspaceState): string =>
  JSON.stringify([versionIds, countryDataId, resolutionsId, at.getTime(), instead]);

/** The state with all that its documents are made of. */
export async function wholeParts(knex: Knex, state: WorkspaceState): Promise<WholeParts> {
  const [shown, parts] = await Promise.all([stateParts(knex, state), partsOf(knex, state.versionIds)]);
  return { ...shown, parts, resolutions: await wholeLoads(knex, state.resolutionsId) };
}

async function wholeLoads(knex: Knex, id: number | undefined): Promise<PackedLoad[]> {
  const loads = id === undefined ? [] : await loadsOf(knex, id);
  const data = await packedLoads(
    knex,
    loads.map((load) => load.id),
  );
  return loads.map((load, at) => ({ id: load.id, hosts: load.hosts, data: data[at] as Uint8Array }));
}
