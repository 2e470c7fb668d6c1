import type { ChangeBody } from '@jade-fence/contract';
import type { ReadFiles, SourceDocument, SourceFile } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import { ObjectVersion } from '../model/workspace-object.js';
import { keyOf, type StoredDocument } from './document.js';
import { type Change, type ExpectedDraft, makeChanges, withDraft } from './draft.js';
import { type Overwritten, overwrittenBy, requireKept } from './overwritten.js';
import type { Readings } from './readings.js';
import { currentDocuments, documentAt, readGiven, requireHolding } from './store.js';
import { written } from './texts.js';

export interface ApplyOptions {
  /** Removes what the files do not hold. */
  readonly exact: boolean;
  /** Checks and returns the changes, without making them. */
  readonly dryRun: boolean;
  /** Who applies them. */
  readonly by: string;
  /** The state of the draft that they were made for. */
  readonly draft: ExpectedDraft;
  /** The versions that the files were made from, by `keyOf`; undefined: whatever there is. */
  readonly base?: Readonly<Record<string, number>> | undefined;
  /** Whether they may undo what was edited here since files were last applied. Of no account with `base`. */
  readonly overwrite: boolean;
  /** Whether somebody keeps these files; else they are an edit that is made here. */
  readonly byFile: boolean;
}

export interface Applied {
  readonly changes: ChangeBody[];
  /** What was edited here and is undone by that. */
  readonly overwritten: readonly Overwritten[];
}

/** Checks the files together with what is stored, then stores them, all or nothing. */
export async function applyFiles(
  knex: Knex,
  readings: Readings,
  files: readonly SourceFile[],
  { exact, dryRun, by, draft, base, overwrite, byFile }: ApplyOptions,
): Promise<Applied> {
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
    const overwritten = base || !byFile ? [] : await overwrittenBy(trx, readings, { given, changes, stored });
    if (!overwrite && !dryRun) requireKept(overwritten);
    if (!dryRun) await makeChanges(trx, changes, by, { byFile });
    if (!dryRun && byFile) await noteInFiles(trx, changes, stored);
    return { changes: changes.map(({ kind, name, change }) => ({ kind, name, change })), overwritten };
  });
}

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
  throw refusal(
    'object-changed/several',
    {},
    {
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
    },
  );
}

/** Notes that files have an object as it was edited here: taking that out of the files undoes nobody's edit any more. */
async function noteInFiles(
  trx: Knex.Transaction,
  changes: readonly Change[],
  stored: readonly StoredDocument[],
): Promise<void> {
  const same = new Set(changes.filter(({ change }) => change === 'unchanged').map(keyOf));
  const versions = stored.filter((document) => same.has(keyOf(document)) && !document.byFile);
  await ObjectVersion.query(trx)
    .whereIn(
      'id',
      versions.map(({ versionId }) => versionId),
    )
    .patch({ byFile: true });
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
