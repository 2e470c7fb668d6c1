import type { DocumentKind } from '@jade-fence/core/text';
import { type ReadFiles, readFiles } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { notFound } from '../fault/not-found.js';
import { refusal } from '../fault/refusal.js';
import { keyOf, type StoredDocument } from './document.js';
import { makeChanges, type Target, withDraft } from './draft.js';
import type { Readings } from './readings.js';
import { currentDocument, currentDocuments, readGiven, requireHolding } from './store.js';
import { textOfVersion } from './texts.js';

/** In which state an object must be for a change: at a version, or not there at all. */
export type Expected = { readonly version: number } | 'absent';

/** One object of the draft, or a problem that says what was most likely meant. */
export async function findObject(knex: Knex, kind: DocumentKind, name: string): Promise<StoredDocument> {
  const found = await currentDocument(knex, kind, name);
  if (found) return found;
  const known = (await currentDocuments(knex)).filter((each) => each.kind === kind).map((each) => each.name);
  throw notFound(kind, name, known, `The workspace has: ${known.join(', ') || `no ${kind}`}.`);
}

export interface ObjectChange {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly expected: Expected;
  readonly by: string;
}

/** Gives an object of the draft a new text; all of the workspace must hold with it. */
export async function putObject(
  knex: Knex,
  readings: Readings,
  change: ObjectChange,
  text: string,
): Promise<StoredDocument> {
  const { kind, name } = change;
  return putRead(knex, readings, change, readGiven([{ name: `${kind} ${name}`, text }], UNCHANGED));
}

const UNCHANGED = 'nothing was changed';

/** The same, of a text that has been read. */
export async function putRead(
  knex: Knex,
  readings: Readings,
  { kind, name, expected, by }: ObjectChange,
  given: ReadFiles,
): Promise<StoredDocument> {
  const [document, ...others] = given.documents;
  if (document && (others.length > 0 || keyOf(document) !== keyOf({ kind, name })))
    throw refusal('other-object', { kind, name });
  return withDraft(knex, undefined, async (trx) => {
    const stored = await currentDocuments(trx);
    const before = requireExpected(stored, { kind, name, expected });
    await requireHolding(trx, given, stored, readings, UNCHANGED);
    const was = before && (await textOfVersion(trx, before.versionId));
    const change = was === undefined ? 'added' : was === document?.text ? 'unchanged' : 'changed';
    if (document) await makeChanges(trx, [{ kind, name, change, target: { kind, name, document } }], by);
    const after = await findObject(trx, kind, name);
    readings.remember(after.versionId, given);
    return after;
  });
}

/** Removes an object from the draft, where nothing else needs it. */
export async function removeObject(
  knex: Knex,
  readings: Readings,
  { kind, name, expected, by }: ObjectChange,
): Promise<void> {
  await withDraft(knex, undefined, async (trx) => {
    const stored = await currentDocuments(trx);
    if (!requireExpected(stored, { kind, name, expected })) await findObject(trx, kind, name);
    const target: Target = { kind, name, gone: true };
    await requireHolding(
      trx,
      readFiles([]),
      stored.filter((each) => keyOf(each) !== keyOf(target)),
      readings,
      'nothing was removed',
    );
    await makeChanges(trx, [{ kind, name, change: 'removed', target }], by);
  });
}

/** The object in its present state; refused when that is not the expected one. */
export function requireExpected(
  stored: readonly StoredDocument[],
  { kind, name, expected }: Omit<ObjectChange, 'by'>,
): StoredDocument | undefined {
  const found = stored.find((each) => keyOf(each) === keyOf({ kind, name }));
  if (expected === 'absent' ? found === undefined : found === undefined || found.number === expected.version)
    return found;
  if (expected === 'absent') throw refusal('object-changed/exists', { kind, name });
  const changed = `${found?.changedAt.toISOString()}${found?.author ? `, by ${found.author}` : ''}`;
  throw refusal('object-changed', { kind, name, now: found?.number, expected: expected.version, changed });
}
