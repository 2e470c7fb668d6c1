import {
  type DocumentKind,
  linkFiles,
  type ReadFiles,
  type ReadWorkspace,
  readFiles,
  type SourceDocument,
  type SourceFile,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { ChangeBody } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { type Change, type ExpectedDraft, makeChanges, withDraft } from './draft.js';
import type { Readings } from './readings.js';
import type { GivenDocument } from './state.js';
import { written } from './texts.js';

/** One stored document of the workspace, in its current version or in one that a replay ran. */
export interface StoredDocument {
  readonly versionId: number;
  readonly kind: DocumentKind;
  readonly name: string;
  readonly number: number;
  readonly file: string;
  /** Null for what was stored before people had names. */
  readonly author: string | null;
  readonly changedAt: Date;
}

/** With its text, which of a long list is large: it is fetched where it is needed. */
export type WrittenDocument = StoredDocument & { readonly text: string };

export interface ApplyOptions {
  /** Removes what the files do not hold. */
  readonly exact: boolean;
  /** Checks and tells the changes, and makes none. */
  readonly dryRun: boolean;
  /** Who applies them. */
  readonly by: string;
  /** The state of the draft that they were made for. */
  readonly draft: ExpectedDraft;
  /** The versions that the files were made from, by `keyOf`; undefined: whatever there is. */
  readonly base?: Readonly<Record<string, number>> | undefined;
}

/** The documents of the workspace as it stands, in the order of their kinds and names. */
export async function currentDocuments(knex: Knex): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereRaw('object_versions.id = objects.current_version_id');
}

/** The documents with the given versions, in the same order. */
export async function documentsOf(knex: Knex, versionIds: readonly number[]): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereIn('object_versions.id', versionIds as number[]);
}

/** One document as it stands; undefined where the workspace has none of that name. */
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
};

function selectDocuments(knex: Knex) {
  return knex('object_versions')
    .join('objects', 'objects.id', 'object_versions.object_id')
    .select<StoredDocument[]>(COLUMNS)
    .orderBy(['objects.kind', 'objects.name']);
}

/** Checks the files together with what is stored, then stores them, all or nothing. */
export async function applyFiles(
  knex: Knex,
  readings: Readings,
  files: readonly SourceFile[],
  { exact, dryRun, by, draft, base }: ApplyOptions,
): Promise<ChangeBody[]> {
  const all = readGiven(files, 'nothing was changed');
  return withDraft(knex, draft, async (trx) => {
    const stored = await currentDocuments(trx);
    const given = base ? await withoutUntouched(trx, all, stored, base) : all;
    // What others added since, or changed while the files left it alone, stays.
    const touched = new Set(given.documents.map(keyOf));
    const untouched = new Set(all.documents.map(keyOf).filter((key) => !touched.has(key)));
    const ours = (document: StoredDocument) =>
      base === undefined || (keyOf(document) in base && !untouched.has(keyOf(document)));
    const kept = exact ? stored.filter((document) => !ours(document)) : stored;
    const changes = await changesOf(trx, given.documents, stored, exact ? stored.filter(ours) : []);
    if (base) requireUnmoved(changes, stored, base);
    await requireHolding(trx, given, kept, readings, 'nothing was changed');
    if (!dryRun) await makeChanges(trx, changes, by);
    return changes.map(({ kind, name, change }) => ({ kind, name, change }));
  });
}

/**
 * Checks files that are to be judged by and not stored, together with what is stored; answers their documents. All
 * problems are told at once.
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

export function readGiven(files: readonly SourceFile[], consequence: string): ReadFiles {
  const given = readFiles(files);
  if (given.documents.length === 0 && given.issues.length === 0)
    throw new Problem(422, 'nothing-to-apply', `The files hold no document; ${consequence}.`, {
      remedy: 'Give files with documents that start with `policy:`, `list:` or another kind.',
    });
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

function invalid({ issues, issueCount }: ReadWorkspace, consequence: string): Problem {
  const count = issueCount === 1 ? 'One problem' : `${issueCount.toLocaleString('en')} problems`;
  const told = issues.length < issueCount ? `, of which the first ${issues.length.toLocaleString('en')} are told` : '';
  return new Problem(422, 'invalid-workspace', `${count} in the workspace files${told}; ${consequence}.`, {
    issues,
  });
}

/** Equal for documents of one kind and name, which stand for one object. */
export const keyOf = ({ kind, name }: { readonly kind: string; readonly name: string }): string => `${kind} ${name}`;

/**
 * What was given, less what is as it was at the version that it was made from and has been changed by others since: that
 * is their change, and not one of these files.
 */
async function withoutUntouched(
  trx: Knex.Transaction,
  given: ReadFiles,
  stored: readonly StoredDocument[],
  base: Readonly<Record<string, number>>,
): Promise<ReadFiles> {
  const now = new Map(stored.map((document) => [keyOf(document), document]));
  const untouched = new Set<string>();
  for (const document of given.documents) {
    const number = base[keyOf(document)];
    if (number === undefined || now.get(keyOf(document))?.number === number) continue;
    const made = await documentAt(trx, document.kind, document.name, number);
    const [then] = made ? await written(trx, [made]) : [];
    if (then?.text === document.text) untouched.add(keyOf(document));
  }
  return {
    ...given,
    objects: given.objects.filter(({ source }) => !untouched.has(keyOf(source))),
    documents: given.documents.filter((document) => !untouched.has(keyOf(document))),
  };
}

/** Refuses changes of objects that somebody else changed since the files were made. */
function requireUnmoved(
  changes: readonly Change[],
  stored: readonly StoredDocument[],
  base: Readonly<Record<string, number>>,
): void {
  const now = new Map(stored.map((document) => [keyOf(document), document]));
  const moved = changes
    .filter(({ change }) => change !== 'unchanged')
    .filter((change) => now.get(keyOf(change))?.number !== base[keyOf(change)]);
  if (moved.length === 0) return;
  throw new Problem(412, 'object-changed', 'Objects were changed since by others; nothing was overwritten.', {
    remedy: 'Fetch them again, and make the changes there.',
    issues: moved.map((change) => {
      const current = now.get(keyOf(change));
      const since = current
        ? `is at version ${current.number}, by ${current.author ?? 'somebody'}, ${current.changedAt.toISOString()}`
        : 'has been removed';
      const made = base[keyOf(change)];
      return {
        path: keyOf(change),
        what: `${since}; the file is of ${made === undefined ? 'none' : `version ${made}`}`,
      };
    }),
  });
}

/** @param removable what is removed where the given documents do not have it */
async function changesOf(
  trx: Knex.Transaction,
  given: readonly SourceDocument[],
  stored: readonly StoredDocument[],
  removable: readonly StoredDocument[],
): Promise<Change[]> {
  const after = new Set(given.map(keyOf));
  const replaced = stored.filter((document) => after.has(keyOf(document)));
  const before = new Map((await written(trx, replaced)).map((document) => [keyOf(document), document.text]));
  const brought = given.map((document): Change => {
    const { kind, name, text } = document;
    const old = before.get(keyOf(document));
    const change = old === undefined ? 'added' : old === text ? 'unchanged' : 'changed';
    return { kind, name, change, target: { kind, name, document } };
  });
  const gone = removable.filter((document) => !after.has(keyOf(document)));
  return [
    ...brought,
    ...gone.map(({ kind, name }): Change => ({ kind, name, change: 'removed', target: { kind, name, gone: true } })),
  ];
}
