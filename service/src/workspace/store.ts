import {
  type DocumentKind,
  linkFiles,
  type ReadWorkspace,
  readFiles,
  type SourceDocument,
  type SourceFile,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { ChangeBody } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { ObjectVersion, WorkspaceObject } from '../model/workspace-object.js';
import type { GivenDocument } from './state.js';

/** One stored document of the workspace, in its current version or in one that a replay ran. */
export interface StoredDocument {
  readonly versionId: number;
  readonly kind: DocumentKind;
  readonly name: string;
  readonly number: number;
  readonly file: string;
  readonly text: string;
  readonly changedAt: Date;
}

export interface ApplyOptions {
  /** Removes what the files do not hold. */
  readonly exact: boolean;
  /** Checks and tells the changes, and makes none. */
  readonly dryRun: boolean;
}

/** Any number that only applying takes as its lock, so that two at once come one after the other. */
const APPLY_LOCK = 7_440_001;

/** The documents of the workspace as it stands, in the order of their files and names. */
export async function currentDocuments(knex: Knex): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereRaw('object_versions.id = objects.current_version_id');
}

/** The documents with the given versions, in the same order. */
export async function documentsOf(knex: Knex, versionIds: readonly number[]): Promise<StoredDocument[]> {
  return selectDocuments(knex).whereIn('object_versions.id', versionIds as number[]);
}

function selectDocuments(knex: Knex) {
  return knex('object_versions')
    .join('objects', 'objects.id', 'object_versions.object_id')
    .select<StoredDocument[]>({
      versionId: 'object_versions.id',
      kind: 'objects.kind',
      name: 'objects.name',
      number: 'object_versions.number',
      file: 'object_versions.file',
      text: 'object_versions.text',
      changedAt: 'object_versions.created_at',
    })
    .orderBy(['objects.kind', 'objects.name']);
}

/** Checks the files together with what is stored, then stores them, all or nothing. */
export async function applyFiles(
  knex: Knex,
  files: readonly SourceFile[],
  options: ApplyOptions,
): Promise<ChangeBody[]> {
  return knex.transaction(async (trx) => {
    await trx.raw('select pg_advisory_xact_lock(?)', [APPLY_LOCK]);
    const stored = await currentDocuments(trx);
    const documents = checked(files, options.exact ? [] : stored, 'nothing was changed');
    const changes = changesOf(documents, stored, options.exact);
    if (!options.dryRun) await store(trx, documents, changes);
    return changes;
  });
}

/**
 * Checks files that are to be judged by and not stored, together with what is stored; answers their documents. All
 * problems are told at once.
 */
export async function checkFiles(knex: Knex, files: readonly SourceFile[]): Promise<GivenDocument[]> {
  const documents = checked(files, await currentDocuments(knex), 'nothing was replayed');
  return documents.map(({ kind, name, file, text }) => ({ kind, name, file, text }));
}

/** The documents of the files, which hold together with those of the stored ones that they do not replace. */
function checked(
  files: readonly SourceFile[],
  stored: readonly StoredDocument[],
  consequence: string,
): readonly SourceDocument[] {
  const given = readFiles(files);
  if (given.documents.length === 0 && given.issues.length === 0)
    throw new Problem(422, 'nothing-to-apply', `The files hold no document; ${consequence}.`, {
      remedy: 'Give files with documents that start with `policy:`, `list:` or another kind.',
    });
  const replaced = new Set(given.documents.map(keyOf));
  const kept = stored.filter((document) => !replaced.has(keyOf(document)));
  const whole = linkFiles([given, readFiles(kept.map(asFile))]);
  if (whole.issueCount > 0) throw invalid(whole, consequence);
  return given.documents;
}

/** A document as a file to be read again. */
export function asFile(document: Pick<StoredDocument, 'kind' | 'name' | 'text'>): SourceFile {
  return { name: `${document.kind} ${document.name}, as stored`, text: document.text };
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

function changesOf(given: readonly SourceDocument[], stored: readonly StoredDocument[], exact: boolean): ChangeBody[] {
  const before = new Map(stored.map((document) => [keyOf(document), document]));
  const after = new Set(given.map(keyOf));
  const brought = given.map(({ kind, name, text }): ChangeBody => {
    const old = before.get(keyOf({ kind, name }));
    return { kind, name, change: old === undefined ? 'added' : old.text === text ? 'unchanged' : 'changed' };
  });
  const gone = exact ? stored.filter((document) => !after.has(keyOf(document))) : [];
  return [...brought, ...gone.map(({ kind, name }): ChangeBody => ({ kind, name, change: 'removed' }))];
}

async function store(
  trx: Knex.Transaction,
  documents: readonly SourceDocument[],
  changes: readonly ChangeBody[],
): Promise<void> {
  const texts = new Map(documents.map((document) => [keyOf(document), document]));
  for (const { kind, name, change } of changes) {
    if (change === 'unchanged') continue;
    const document = texts.get(keyOf({ kind, name }));
    const object = await objectOf(trx, kind as StoredDocument['kind'], name);
    const version = document && (await addVersion(trx, object, document));
    await WorkspaceObject.query(trx)
      .findById(object.id)
      .patch({ currentVersionId: version?.id ?? null });
  }
}

async function objectOf(trx: Knex.Transaction, kind: StoredDocument['kind'], name: string): Promise<WorkspaceObject> {
  const found = await WorkspaceObject.query(trx).findOne({ kind, name });
  return found ?? WorkspaceObject.query(trx).insert({ kind, name, currentVersionId: null }).returning('*');
}

async function addVersion(
  trx: Knex.Transaction,
  object: WorkspaceObject,
  { file, text }: SourceDocument,
): Promise<ObjectVersion> {
  const last = await ObjectVersion.query(trx).where({ objectId: object.id }).max('number as number').first();
  const number = (last?.number ?? 0) + 1;
  return ObjectVersion.query(trx).insert({ objectId: object.id, number, file, text }).returning('*');
}
