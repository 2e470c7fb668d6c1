import type { ChangeBody } from '@jade-fence/contract';
import { editList, type ListEdit } from '@jade-fence/core/list';
import type { DocumentKind } from '@jade-fence/core/text';
import type { SourceDocument } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { type Audited, note } from '../audit/audit.js';
import { refusal } from '../fault/refusal.js';
import { DraftNumber } from '../model/draft-number.js';
import { ObjectVersion, WorkspaceObject } from '../model/workspace-object.js';
import { textOfVersion } from './texts.js';

/** Any number that only changes of the draft and publishing take as their lock, so that they come one after the other. */
const DRAFT_LOCK = 7_440_001;

/** Which state of the draft a change was meant for; undefined: any. */
export type ExpectedDraft = number | undefined;

/** What an object of the draft is to be: a new text, an edit of a version, a version that it had before, or gone. */
export type Target = Pick<StoredTarget, 'kind' | 'name'> &
  (
    | { readonly document: SourceDocument }
    | { readonly edit: ListEdit; readonly base: number }
    | { readonly versionId: number }
    | { readonly gone: true }
  );

interface StoredTarget {
  readonly kind: DocumentKind;
  readonly name: string;
}

/** The number of the draft, which goes up with every change. */
export async function draftNumber(knex: Knex): Promise<number> {
  return (await DraftNumber.query(knex).first().throwIfNotFound()).number;
}

/** Works on the draft while nobody else does. Refuses where it is not in the state that was expected. */
export async function withDraft<T>(
  knex: Knex,
  expected: ExpectedDraft,
  work: (trx: Knex.Transaction) => Promise<T>,
): Promise<T> {
  return inTurn(knex, () =>
    knex.transaction(async (trx) => {
      await trx.raw('select pg_advisory_xact_lock(?)', [DRAFT_LOCK]);
      const number = await draftNumber(trx);
      requireDraft(number, expected);
      return work(trx);
    }),
  );
}

const turns = new WeakMap<Knex, Promise<unknown>>();

/** One change of the draft after the other, in this process: those that wait hold no connection. */
function inTurn<T>(knex: Knex, work: () => Promise<T>): Promise<T> {
  const turn = (turns.get(knex) ?? Promise.resolve()).then(work, work);
  turns.set(
    knex,
    turn.catch(() => undefined),
  );
  return turn;
}

/** Refuses a draft that is in another state than the one that was meant. */
export function requireDraft(number: number, expected: ExpectedDraft): void {
  if (expected === undefined || expected === number) return;
  throw refusal('draft-changed', { number, expected });
}

/** Says that the draft is another now. */
export async function moveDraft(trx: Knex.Transaction): Promise<void> {
  await DraftNumber.query(trx).increment('number', 1);
}

export interface Change {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly change: ChangeBody['change'];
  readonly target: Target;
}

/**
 * Makes changes of the draft, and notes who made them.
 *
 * @param how as what the audit notes them (default: by what each is), and whether files gave them
 */
export async function makeChanges(
  trx: Knex.Transaction,
  changes: readonly Change[],
  by: string,
  { action, byFile = false }: { readonly action?: Audited; readonly byFile?: boolean } = {},
): Promise<void> {
  const made = changes.filter(({ change }) => change !== 'unchanged');
  if (made.length === 0) return;
  for (const { kind, name, target } of made) {
    const object = await objectOf(trx, kind, name);
    await WorkspaceObject.query(trx)
      .findById(object.id)
      .patch({ currentVersionId: await versionOf(trx, object, target, { author: by, byFile }) });
  }
  await moveDraft(trx);
  await note(
    trx,
    made.map(({ kind, name, change }) => ({ actor: by, action: action ?? `object-${change as 'added'}`, kind, name })),
  );
}

async function objectOf(trx: Knex.Transaction, kind: DocumentKind, name: string): Promise<WorkspaceObject> {
  const found = await WorkspaceObject.query(trx).findOne({ kind, name });
  return found ?? WorkspaceObject.query(trx).insert({ kind, name, currentVersionId: null }).returning('*');
}

async function versionOf(
  trx: Knex.Transaction,
  object: WorkspaceObject,
  target: Target,
  made: Pick<ObjectVersion, 'author' | 'byFile'>,
): Promise<number | null> {
  if ('gone' in target) return null;
  if ('versionId' in target) return target.versionId;
  const last = await ObjectVersion.query(trx).where({ objectId: object.id }).max('number as number').first();
  const number = (last?.number ?? 0) + 1;
  const content = 'edit' in target ? await editOf(trx, target.base, target.edit) : wholeOf(target.document);
  const version = await ObjectVersion.query(trx)
    .insert({ objectId: object.id, number, ...content, ...made })
    .returning('id');
  return version.id;
}

type VersionContent = Pick<ObjectVersion, 'file' | 'text' | 'edit' | 'baseId' | 'editWeight'>;

const wholeOf = ({ file, text }: Pick<SourceDocument, 'file' | 'text'>): VersionContent => ({
  ...{ file, text },
  ...{ edit: null, baseId: null, editWeight: 0 },
});

/** What there is to edit beside its entries: the version itself. */
const EDIT_ITSELF = 20;
/** More than that is slower to make again than a text. */
const MOST_EDITED = 20_000;

/** A version stored as an edit of another; with its whole text, when the edit would be too large. */
async function editOf(trx: Knex.Transaction, baseId: number, edit: ListEdit): Promise<VersionContent> {
  const base = await ObjectVersion.query(trx).findById(baseId).select('file', 'editWeight').throwIfNotFound();
  const editWeight = base.editWeight + EDIT_ITSELF + edit.add.length + edit.remove.length;
  if (editWeight <= MOST_EDITED) return { file: base.file, text: null, edit, baseId, editWeight };
  const text = await textOfVersion(trx, baseId);
  return wholeOf({ file: base.file, text: editList(text, edit.add, edit.remove).text });
}
