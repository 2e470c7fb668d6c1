import type { ChangeBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { readFiles } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { countryDataInForce } from '../country/store.js';
import { refusal } from '../fault/refusal.js';
import { fetchBackCountryData } from '../workspace/country-data.js';
import { keyOf, type StoredDocument } from '../workspace/document.js';
import { type Change, type ExpectedDraft, makeChanges, withDraft } from '../workspace/draft.js';
import type { Readings } from '../workspace/readings.js';
import { currentDocuments, requireHolding } from '../workspace/store.js';
import { written } from '../workspace/texts.js';
import type { Point } from './point.js';

export interface RestoreOrder {
  /** What the draft is to be again. */
  readonly to: Point;
  /** Only this object; undefined: all. */
  readonly only: { readonly kind: DocumentKind; readonly name: string } | undefined;
  readonly by: string;
  readonly draft: ExpectedDraft;
  /** Whether edits are thrown away, or a state before is fetched back: for the audit. */
  readonly action: 'object-discarded' | 'object-restored';
}

/**
 * Makes objects of the draft what they are in another state, all of them or one; with all of them the country data too.
 * What results holds, or nothing changes.
 */
export async function restore(knex: Knex, readings: Readings, order: RestoreOrder): Promise<ChangeBody[]> {
  const { to, only, by, draft, action } = order;
  if (to.label === 'nothing') throw refusal('nothing-published/restore');
  return withDraft(knex, draft, async (trx) => {
    const current = await currentDocuments(trx);
    const changes = (await changesTo(trx, current, to.documents)).filter(
      (change) => only === undefined || keyOf(change) === keyOf(only),
    );
    if (only && changes.length === 0)
      throw refusal('nothing-to-restore', { kind: only.kind, name: only.name, revision: to.label });
    await requireWhole(trx, { current, wanted: to.documents }, changes, readings);
    await makeChanges(trx, changes, by, { action });
    const country = only ? undefined : (to.countryDataId ?? undefined);
    if (country !== undefined && country !== (await countryDataInForce(trx))?.id)
      await fetchBackCountryData(trx, country, by);
    return changes.map(({ kind, name, change }) => ({ kind, name, change }));
  });
}

/** What has to be changed so that the one set of documents is the other. */
async function changesTo(
  trx: Knex.Transaction,
  current: readonly StoredDocument[],
  wanted: readonly StoredDocument[],
): Promise<Change[]> {
  const now = new Map(current.map((document) => [keyOf(document), document]));
  const then = new Set(wanted.map(keyOf));
  const moved = wanted.filter((document) => now.get(keyOf(document))?.versionId !== document.versionId);
  const own = moved.flatMap((document) => now.get(keyOf(document)) ?? []);
  const before = new Map((await written(trx, own)).map((document) => [keyOf(document), document.text]));
  const brought = (await written(trx, moved)).flatMap(({ kind, name, versionId, text }): Change[] => {
    const old = before.get(keyOf({ kind, name }));
    if (old === text) return [];
    return [{ kind, name, change: old === undefined ? 'added' : 'changed', target: { kind, name, versionId } }];
  });
  const gone = current
    .filter((document) => !then.has(keyOf(document)))
    .map(({ kind, name }): Change => ({ kind, name, change: 'removed', target: { kind, name, gone: true } }));
  return [...brought, ...gone];
}

/** Refuses a draft that would not hold, as where one object is fetched back and what it names is not. */
async function requireWhole(
  trx: Knex.Transaction,
  { current, wanted }: Readonly<Record<'current' | 'wanted', readonly StoredDocument[]>>,
  changes: readonly Change[],
  readings: Readings,
): Promise<void> {
  const changed = new Set(changes.map(keyOf));
  const left = [
    ...current.filter((document) => !changed.has(keyOf(document))),
    ...wanted.filter((document) => changed.has(keyOf(document))),
  ];
  await requireHolding(trx, readFiles([]), left, readings, 'nothing was changed');
}
