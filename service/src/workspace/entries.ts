import { editList, type ListSort, type NewEntry, readListFile } from '@jade-fence/core';
import type { Knex } from 'knex';
import type { EntriesChanged, EntriesImported } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { findObject, putObject } from './objects.js';
import type { Readings } from './readings.js';
import { currentDocument, type StoredDocument } from './store.js';

/** Somebody else may change the list between our reading and our writing; then it is done again. */
const MOST_ATTEMPTS = 20;
const MOST_TOLD = 100;

export interface EntriesEdit {
  readonly name: string;
  readonly add: readonly NewEntry[];
  readonly remove: readonly string[];
  readonly by: string;
}

/** Adds entries to a list and removes some, whatever others do to it meanwhile. */
export async function editEntries(
  knex: Knex,
  readings: Readings,
  { name, add, remove, by }: EntriesEdit,
): Promise<EntriesChanged> {
  for (let attempt = 1; ; attempt++) {
    const { text, number } = await findObject(knex, 'list', name);
    const edited = editList(text, add, remove);
    try {
      const change = { kind: 'list', name, expected: { version: number }, by } as const;
      const stored = await putObject(knex, readings, change, edited.text);
      const { present, missing } = edited;
      return { list: name, version: stored.number, entries: entriesOf(readings, stored), present, missing };
    } catch (error) {
      const lost = error instanceof Problem && error.code === 'object-changed';
      if (!lost || attempt === MOST_ATTEMPTS) throw error;
    }
  }
}

export interface EntriesImport {
  readonly name: string;
  readonly of: ListSort;
  /** Leave out lines that do not hold; else one of them stops it. */
  readonly skip: boolean;
  readonly lines: string;
  readonly by: string;
}

/** Makes a list of the lines of a file. Lines that do not hold are told, each with its number. */
export async function importEntries(
  knex: Knex,
  readings: Readings,
  { name, of, skip, lines, by }: EntriesImport,
): Promise<EntriesImported> {
  const { text, faults } = readListFile(name, of, lines);
  const told = faults.slice(0, MOST_TOLD);
  if (faults.length > 0 && !skip)
    throw new Problem(422, 'bad-entries', `${tellLines(faults.length)} not hold; nothing was changed.`, {
      remedy: 'Mend them, or leave them out with `skip`.',
      issues: told.map(({ line, what }) => ({ path: `line ${line}`, what })),
    });
  const before = await currentDocument(knex, 'list', name);
  const expected = before ? { version: before.number } : 'absent';
  const stored = await putObject(knex, readings, { kind: 'list', name, expected, by }, text);
  const entries = entriesOf(readings, stored);
  return { list: name, version: stored.number, entries, left: told, leftCount: faults.length };
}

const tellLines = (count: number): string => (count === 1 ? 'One line does' : `${count.toLocaleString('en')} lines do`);

function entriesOf(readings: Readings, stored: StoredDocument): number {
  const [read] = readings.readAll([stored]);
  const object = read?.objects[0]?.object;
  return object?.type === 'list' ? object.entries.length : 0;
}
