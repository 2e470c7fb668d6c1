import type { EntriesChanged, EntriesImported } from '@jade-fence/contract';
import { editList, type ListSort, type NewEntry } from '@jade-fence/core/list';
import { editedReading, type ListFile, type ReadFiles, readListFile } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { Refusal, refusal } from '../fault/refusal.js';
import { type StoredDocument } from './document.js';
import { makeChanges, withDraft } from './draft.js';
import { findObject, putObject, putRead, requireExpected } from './objects.js';
import type { Readings } from './readings.js';
import { currentDocument, currentDocuments, requireHolding } from './store.js';
import { textOfVersion } from './texts.js';

/** Somebody else may change the list between our reading and our writing; then it is done again. */
const MOST_ATTEMPTS = 20;
const MOST_LISTED = 100;

export interface EntriesEdit {
  readonly name: string;
  readonly add: readonly NewEntry[];
  readonly remove: readonly string[];
  readonly by: string;
}

/** From this many entries on, a list is edited by its changed entries, and not by its text with the comments in it. */
export const LONG_LIST = 2000;

/** Adds entries to a list and removes some, whatever others do to it meanwhile. */
export async function editEntries(knex: Knex, readings: Readings, edit: EntriesEdit): Promise<EntriesChanged> {
  for (let attempt = 1; ; attempt++) {
    const list = await findObject(knex, 'list', edit.name);
    const [read] = await readings.load(knex, [list]);
    if (read === undefined) throw new Error(`list ${edit.name} went away`);
    try {
      return lengthOf(read) < LONG_LIST
        ? await editText(knex, readings, list, edit)
        : await editLong(knex, readings, { list, read }, edit);
    } catch (error) {
      const lost = error instanceof Refusal && error.code === 'object-changed';
      if (!lost || attempt === MOST_ATTEMPTS) throw error;
    }
  }
}

async function editText(
  knex: Knex,
  readings: Readings,
  { number, versionId }: StoredDocument,
  { name, add, remove, by }: EntriesEdit,
): Promise<EntriesChanged> {
  const { text, present, missing } = editList(await textOfVersion(knex, versionId), add, remove);
  const change = { kind: 'list', name, expected: { version: number }, by } as const;
  const stored = await putObject(knex, readings, change, text);
  const [read] = await readings.load(knex, [stored]);
  return { list: name, version: stored.number, entries: lengthOf(read), present, missing };
}

/** Neither the text nor the other entries are read again: one of a million is added in milliseconds. */
async function editLong(
  knex: Knex,
  readings: Readings,
  { list, read }: { readonly list: StoredDocument; readonly read: ReadFiles },
  { name, add, remove, by }: EntriesEdit,
): Promise<EntriesChanged> {
  const edit = { add, remove };
  const { read: edited, present, missing } = editedReading(read, [edit]);
  const entries = lengthOf(edited);
  if (present.length === new Set(add.map(({ entry }) => entry)).size && missing.length === remove.length)
    return { list: name, version: list.number, entries, present, missing };
  return withDraft(knex, undefined, async (trx) => {
    const stored = await currentDocuments(trx);
    requireExpected(stored, { kind: 'list', name, expected: { version: list.number } });
    await requireHolding(trx, edited, stored, readings, 'nothing was changed');
    const target = { kind: 'list', name, edit, base: list.versionId } as const;
    await makeChanges(trx, [{ kind: 'list', name, change: 'changed', target }], by);
    const after = await findObject(trx, 'list', name);
    readings.remember(after.versionId, edited);
    return { list: name, version: after.number, entries, present, missing };
  });
}

export interface EntriesImport {
  readonly name: string;
  readonly of: ListSort;
  /** Skip invalid lines; else one of them stops it. */
  readonly skip: boolean;
  readonly lines: string;
  readonly by: string;
}

/** Makes a list of the lines of a file. Reports invalid lines, each with its number. */
export const importEntries = (
  knex: Knex,
  readings: Readings,
  { of, lines, ...order }: EntriesImport,
): Promise<EntriesImported> => takeEntries(knex, readings, order, readListFile(order.name, of, lines));

/** The same of a file that has been read. */
export async function takeEntries(
  knex: Knex,
  readings: Readings,
  { name, skip, by }: Omit<EntriesImport, 'of' | 'lines'>,
  { read, faults }: ListFile,
): Promise<EntriesImported> {
  const shown = faults.slice(0, MOST_LISTED);
  if (faults.length > 0 && !skip)
    throw refusal(
      'bad-entries',
      { lines: linesPhrase(faults.length) },
      { issues: shown.map(({ line, what }) => ({ path: `line ${line}`, what })) },
    );
  const before = await currentDocument(knex, 'list', name);
  const expected = before ? { version: before.number } : 'absent';
  const stored = await putRead(knex, readings, { kind: 'list', name, expected, by }, read);
  return { list: name, version: stored.number, entries: lengthOf(read), left: shown, leftCount: faults.length };
}

const linesPhrase = (count: number): string =>
  count === 1 ? 'One line is invalid' : `${count.toLocaleString('en')} lines are invalid`;

function lengthOf(read: ReadFiles | undefined): number {
  const object = read?.objects[0]?.object;
  return object?.type === 'list' ? object.entries.length : 0;
}
