import type { DocumentKind } from '@jade-fence/core/text';
import { readFiles } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { countryDataInForce } from '../country/store.js';
import { notFound } from '../fault/not-found.js';
import { Refusal, refusal } from '../fault/refusal.js';
import type { ChosenVersion } from '../model/revision.js';
import { newestResolutions } from '../resolution/store.js';
import { keyOf, type StoredDocument } from '../workspace/document.js';
import type { Readings } from '../workspace/readings.js';
import { currentState, type WorkspaceState } from '../workspace/state.js';
import { currentDocuments, documentsOf, requireHolding } from '../workspace/store.js';
import { publishedRevision } from './store.js';

/** An object of the draft that is chosen to be published, others being left as they are published. */
export interface Chosen {
  readonly kind: DocumentKind;
  readonly name: string;
}

/** The state that is to be published: the draft; or what is published with the chosen objects as they are in the draft. */
export async function stateToPublish(
  knex: Knex,
  readings: Readings,
  only: readonly Chosen[] | undefined,
  now: Date,
): Promise<WorkspaceState> {
  if (only === undefined) return currentState(knex, now);
  const published = await publishedRevision(knex);
  const [before, draft] = [await documentsOf(knex, published?.versionIds ?? []), await currentDocuments(knex)];
  requireKnown(only, [...before, ...draft]);
  const chosen = new Set(only.map(keyOf));
  const documents = [
    ...before.filter((document) => !chosen.has(keyOf(document))),
    ...draft.filter((document) => chosen.has(keyOf(document))),
  ];
  await requireWhole(knex, readings, documents);
  // In the order in which documents are listed.
  const versionIds = (
    await documentsOf(
      knex,
      documents.map(({ versionId }) => versionId),
    )
  ).map(({ versionId }) => versionId);
  const country = published ? published.countryDataId : (await countryDataInForce(knex))?.id;
  return { versionIds, countryDataId: country ?? undefined, resolutionsId: await newestResolutions(knex), at: now };
}

/** The versions that chosen objects have in the draft. */
export async function chosenVersions(knex: Knex, only: readonly Chosen[]): Promise<ChosenVersion[]> {
  const draft = new Map((await currentDocuments(knex)).map((document) => [keyOf(document), document.versionId]));
  return only.map(({ kind, name }) => ({ kind, name, versionId: draft.get(keyOf({ kind, name })) ?? null }));
}

/** Whether any of them is another in the draft by now. */
export async function areChanged(knex: Knex, versions: readonly ChosenVersion[]): Promise<boolean> {
  const now = await chosenVersions(knex, versions);
  return now.some(({ versionId }, at) => versionId !== versions[at]?.versionId);
}

function requireKnown(only: readonly Chosen[], known: readonly StoredDocument[]): void {
  const keys = new Set(known.map(keyOf));
  const unknown = only.find((each) => !keys.has(keyOf(each)));
  if (!unknown) return;
  const names = known.filter(({ kind }) => kind === unknown.kind).map(({ name }) => name);
  throw notFound(
    unknown.kind,
    unknown.name,
    names,
    `There are: ${[...new Set(names)].join(', ') || `no ${unknown.kind}`}.`,
  );
}

async function requireWhole(knex: Knex, readings: Readings, documents: readonly StoredDocument[]): Promise<void> {
  try {
    await requireHolding(knex, readFiles([]), documents, readings, 'nothing was published');
  } catch (error) {
    if (!(error instanceof Refusal && error.code === 'invalid-workspace')) throw error;
    throw refusal('chosen-in-part', {}, { issues: error.issues ?? [] });
  }
}
