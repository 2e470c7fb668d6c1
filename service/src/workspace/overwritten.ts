import { lostWords } from '@jade-fence/core/difference';
import { linkFiles, type ReadFiles, type WorkspaceObject, workspaceObjects } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import { keyOf, type StoredDocument } from './document.js';
import type { Change } from './draft.js';
import type { Readings } from './readings.js';
import { versionsOf } from './store.js';

/** What files would undo of an object, which was edited here since files gave it. */
export interface Overwritten {
  readonly kind: string;
  readonly name: string;
  /** Who edited it last, and when. */
  readonly by: string | null;
  readonly at: string;
  /** What would be lost, a sentence each. */
  readonly lost: readonly string[];
}

interface Order {
  readonly given: ReadFiles;
  readonly changes: readonly Change[];
  readonly stored: readonly StoredDocument[];
}

/** What changes of the draft by files would undo of the edits that were made here since files were last applied. */
export async function overwrittenBy(
  knex: Knex,
  readings: Readings,
  { given, changes, stored }: Order,
): Promise<Overwritten[]> {
  const touched = new Set(changes.filter(({ change }) => change !== 'unchanged').map(keyOf));
  const edited = stored.filter((document) => touched.has(keyOf(document)) && !document.byFile);
  if (edited.length === 0) return [];
  const before = await Promise.all(edited.map((document) => lastByFile(knex, document)));
  const names = new Set(edited.map(keyOf));
  const others = stored.filter((document) => !names.has(keyOf(document)));
  const replaced = new Set(given.documents.map(keyOf));
  const stateOf = async (documents: readonly StoredDocument[], files: readonly ReadFiles[] = []) => {
    const { workspace } = linkFiles([...files, ...(await readings.load(knex, documents))]);
    return new Map(workspaceObjects(workspace).map((object) => [keyOf({ ...object, kind: object.type }), object]));
  };
  const base = await stateOf([...others, ...before.flatMap((document) => document ?? [])]);
  const current = await stateOf(stored);
  const next = await stateOf(
    stored.filter((document) => !touched.has(keyOf(document)) && !replaced.has(keyOf(document))),
    [given],
  );
  return edited.flatMap((document): Overwritten[] => {
    const key = keyOf(document);
    const { kind, name, author, changedAt } = document;
    const lost = lostWords(base.get(key), current.get(key) as WorkspaceObject, next.get(key));
    return lost.length === 0 ? [] : [{ kind, name, by: author, at: changedAt.toISOString(), lost }];
  });
}

/** Refuses files that would undo what was edited here. */
export function requireKept(overwritten: readonly Overwritten[]): void {
  if (overwritten.length === 0) return;
  throw refusal(
    'would-overwrite',
    {},
    {
      issues: overwritten.flatMap(({ kind, name, by, at, lost }) =>
        lost.map((what) => ({ path: `${kind} ${name}`, what: `${what} (${by ?? 'somebody'}, ${at})` })),
      ),
    },
  );
}

/** The newest state of an object that files gave. */
async function lastByFile(knex: Knex, { kind, name }: StoredDocument): Promise<StoredDocument | undefined> {
  return (await versionsOf(knex, kind, name)).find(({ byFile }) => byFile);
}
