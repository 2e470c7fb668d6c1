import type { DocumentKind, SourceDocument } from '@jade-fence/core';
import type { Knex } from 'knex';
import { type Audited, note } from '../audit/audit.js';
import type { ChangeBody } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { ObjectVersion, WorkspaceObject } from '../model/workspace-object.js';

/** Any number that only changes of the draft and publishing take as their lock, so that they come one after the other. */
const DRAFT_LOCK = 7_440_001;

/** Which state of the draft a change was meant for; undefined: any. */
export type ExpectedDraft = number | undefined;

/** What an object of the draft is to be: a new text, a version that it had before, or gone. */
export type Target = Pick<StoredTarget, 'kind' | 'name'> &
  ({ readonly document: SourceDocument } | { readonly versionId: number } | { readonly gone: true });

interface StoredTarget {
  readonly kind: DocumentKind;
  readonly name: string;
}

export async function draftNumber(knex: Knex): Promise<number> {
  const { number } = await knex('draft').first('number');
  return number;
}

/** Works on the draft while nobody else does. Refuses where it is not in the state that was expected. */
export async function withDraft<T>(
  knex: Knex,
  expected: ExpectedDraft,
  work: (trx: Knex.Transaction) => Promise<T>,
): Promise<T> {
  return knex.transaction(async (trx) => {
    await trx.raw('select pg_advisory_xact_lock(?)', [DRAFT_LOCK]);
    const number = await draftNumber(trx);
    requireDraft(number, expected);
    return work(trx);
  });
}

/** Refuses a draft that is in another state than the one that was meant. */
export function requireDraft(number: number, expected: ExpectedDraft): void {
  if (expected === undefined || expected === number) return;
  throw new Problem(412, 'draft-changed', `The draft has changed since: it is at ${number}, not at ${expected}.`, {
    remedy: 'Look at it again, and then say so again.',
  });
}

/** Says that the draft is another now. */
export async function moveDraft(trx: Knex.Transaction): Promise<void> {
  await trx('draft').increment('number');
}

export interface Change {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly change: ChangeBody['change'];
  readonly target: Target;
}

/** Makes changes of the draft, and notes who made them. */
export async function makeChanges(
  trx: Knex.Transaction,
  changes: readonly Change[],
  by: string,
  action?: Audited,
): Promise<void> {
  const made = changes.filter(({ change }) => change !== 'unchanged');
  if (made.length === 0) return;
  for (const { kind, name, target } of made) {
    const object = await objectOf(trx, kind, name);
    await WorkspaceObject.query(trx)
      .findById(object.id)
      .patch({ currentVersionId: await versionOf(trx, object, target, by) });
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
  author: string,
): Promise<number | null> {
  if ('gone' in target) return null;
  if ('versionId' in target) return target.versionId;
  const { file, text } = target.document;
  const last = await ObjectVersion.query(trx).where({ objectId: object.id }).max('number as number').first();
  const number = (last?.number ?? 0) + 1;
  const version = await ObjectVersion.query(trx)
    .insert({ objectId: object.id, number, file, text, author })
    .returning('*');
  return version.id;
}
