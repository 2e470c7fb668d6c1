import type { DocumentKind } from '@jade-fence/core/text';
import { linkFiles, type ReadFiles, type ReadWorkspace, readFiles, type SourceFile } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { Refusal, refusal } from '../fault/refusal.js';
import type { GivenDocument } from '../model/replay.js';
import { keyOf, type StoredDocument } from './document.js';
import type { Readings } from './readings.js';

/** The documents of the draft, in the order of their kinds and names. */
export async function currentDocuments(knex: Knex): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereRaw('object_versions.id = objects.current_version_id');
}

/** The documents with the given versions, in the same order. */
export async function documentsOf(knex: Knex, versionIds: readonly number[]): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereIn('object_versions.id', versionIds as number[]);
}

/** One document of the draft; undefined when there is none of that name. */
export async function currentDocument(
  knex: Knex,
  kind: DocumentKind,
  name: string,
): Promise<StoredDocument | undefined> {
  const [found] = await selectDocuments(knex)
    .whereRaw('object_versions.id = objects.current_version_id')
    .where({ 'objects.kind': kind, 'objects.name': name });
  return found;
}

/** All versions that a document ever had, the newest first. */
export async function versionsOf(knex: Knex, kind: DocumentKind, name: string): Promise<StoredDocument[]> {
  return selectDocuments(knex)
    .where({ 'objects.kind': kind, 'objects.name': name })
    .clearOrder()
    .orderBy('object_versions.number', 'desc');
}

/** A document as it was in one version; undefined where it never had it. */
export async function documentAt(
  knex: Knex,
  kind: DocumentKind,
  name: string,
  number: number,
): Promise<StoredDocument | undefined> {
  const [found] = await selectDocuments(knex).where({
    'objects.kind': kind,
    'objects.name': name,
    'object_versions.number': number,
  });
  return found;
}

const COLUMNS = {
  versionId: 'object_versions.id',
  kind: 'objects.kind',
  name: 'objects.name',
  number: 'object_versions.number',
  file: 'object_versions.file',
  author: 'object_versions.author',
  changedAt: 'object_versions.created_at',
  byFile: 'object_versions.by_file',
};

function selectDocuments(knex: Knex) {
  return knex('object_versions')
    .join('objects', 'objects.id', 'object_versions.object_id')
    .select<StoredDocument[]>(COLUMNS)
    .orderBy(['objects.kind', 'objects.name']);
}

/**
 * Checks files that are to be judged by and not stored, together with what is stored; answers their documents. All
 * problems are reported at once.
 */
export async function checkFiles(
  knex: Knex,
  readings: Readings,
  stored: readonly StoredDocument[],
  files: readonly SourceFile[],
): Promise<GivenDocument[]> {
  const given = readGiven(files, 'nothing was replayed');
  await requireHolding(knex, given, stored, readings, 'nothing was replayed');
  return given.documents.map(({ kind, name, file, text }) => ({ kind, name, file, text }));
}

/**
 * Reads files that were sent. Refuses files without a document with `nothing-to-apply`; `consequence` ends that sentence.
 */
export function readGiven(files: readonly SourceFile[], consequence: string): ReadFiles {
  const given = readFiles(files);
  if (given.documents.length === 0 && given.issues.length === 0) throw refusal('nothing-to-apply', { consequence });
  return given;
}

/** Refuses what does not hold together with those of the stored documents that it does not replace. */
export async function requireHolding(
  knex: Knex,
  given: ReadFiles,
  stored: readonly StoredDocument[],
  readings: Readings,
  consequence: string,
): Promise<void> {
  const replaced = new Set(given.documents.map(keyOf));
  const kept = stored.filter((document) => !replaced.has(keyOf(document)));
  const whole = linkFiles([given, ...(await readings.load(knex, kept))]);
  if (whole.issueCount > 0) throw invalid(whole, consequence);
}

function invalid({ issues, issueCount }: ReadWorkspace, consequence: string): Refusal {
  const count = issueCount === 1 ? 'One problem' : `${issueCount.toLocaleString('en')} problems`;
  const shown =
    issues.length < issueCount ? `, of which the first ${issues.length.toLocaleString('en')} are listed` : '';
  return refusal('invalid-workspace', { count, shown, consequence }, { issues });
}
