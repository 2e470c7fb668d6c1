import { stringify } from 'yaml';
import type { Issue } from '../issue/index.js';
import { parseDocuments } from '../text/index.js';
import type { NewEntry } from './edit-text.js';
import type { Edited, Entry, List } from './list.js';
import { readList } from './read.js';

/** Entries that are added to a list, and the words of those that are removed. What is in both ends up added. */
export interface ListEdit {
  readonly add: readonly NewEntry[];
  readonly remove: readonly string[];
}

/** A list after an edit. */
export interface EditedEntries {
  readonly list: List;
  /** The document that the added entries were read as; `issues` are of its text. */
  readonly addedText: string;
  readonly issues: readonly Issue[];
  /** Which of those to add are there already. */
  readonly present: readonly string[];
  /** Which of those to remove are not there. */
  readonly missing: readonly string[];
}

/** Sets that differ in more entries than these are made anew. */
const MOST_EDITED = 20_000;

/** One edit that comes to the same as several, one after the other. */
export function mergedEdit(edits: readonly ListEdit[]): ListEdit {
  const add = new Map<string, NewEntry>();
  const remove = new Set<string>();
  for (const edit of edits) {
    for (const entry of edit.remove) {
      add.delete(entry);
      remove.add(entry);
    }
    for (const entry of edit.add) if (!add.has(entry.entry)) add.set(entry.entry, entry);
  }
  return { add: [...add.values()], remove: [...remove] };
}

/**
 * Edits the entries of a list without its text, so that one of a million is added in milliseconds. Comes to what
 * `editList` makes of the text.
 * @param file named by the issues of the added entries
 */
export function editEntriesOf(list: List, { add, remove }: ListEdit, file: string): EditedEntries {
  const wanted = new Set(add.map(({ entry }) => entry));
  const gone = new Set(remove);
  const present = new Set<string>();
  const removed: Entry<unknown>[] = [];
  const may = marksOf([...wanted, ...gone]);
  for (const entry of list.entries) {
    if (may[markOf(entry.text)] === 0) continue;
    if (gone.has(entry.text)) removed.push(entry);
    else if (wanted.has(entry.text)) present.add(entry.text);
  }
  const fresh = mergedEdit([{ add: add.filter(({ entry }) => !present.has(entry)), remove: [] }]).add;
  const { entries: added, issues, text } = readEntries(list, fresh, file);
  const found = new Set(removed.map(({ text: word }) => word));
  return {
    list: withEntries(list, added, removed),
    addedText: text,
    issues,
    present: [...present],
    missing: remove.filter((entry) => !found.has(entry)),
  };
}

/** Tells most words apart without hashing a million of them. */
const markOf = (word: string): number => ((word.length & 0xff) << 8) | (word.charCodeAt(word.length - 1) & 0xff);

function marksOf(words: readonly string[]): Uint8Array {
  const marks = new Uint8Array(0x10000);
  for (const word of words) marks[markOf(word)] = 1;
  return marks;
}

function readEntries({ name, of }: List, entries: readonly NewEntry[], file: string) {
  const issues: Issue[] = [];
  const text = stringify({ list: name, of, entries });
  const [document] = parseDocuments(file, text, issues);
  return { entries: (document && readList(document)?.entries) ?? [], issues, text };
}

function withEntries(list: List, added: readonly Entry<unknown>[], removed: readonly Entry<unknown>[]): List {
  const left = removed.length === 0 ? list.entries : without(list.entries, removed);
  const { edited: before, ...base } = list;
  const entries = [...left, ...added] as Entry<never>[];
  const edited = asOneEdit(list, before, added, removed);
  return { ...base, entries, ...(edited && { edited }) } as List;
}

/** The sum of the edits since the list that has a text of its own; undefined when they are too many. */
function asOneEdit(
  list: List,
  before: Edited<unknown> | undefined,
  added: readonly Entry<unknown>[],
  removed: readonly Entry<unknown>[],
): Edited<unknown> | undefined {
  const undone = new Set(removed);
  const own = new Set(before?.added);
  const edited = {
    from: before?.from ?? list,
    added: [...(before?.added ?? []).filter((entry) => !undone.has(entry)), ...added],
    removed: [...(before?.removed ?? []), ...removed.filter((entry) => !own.has(entry))],
  };
  return edited.added.length + edited.removed.length > MOST_EDITED ? undefined : edited;
}

function without(entries: readonly Entry<unknown>[], removed: readonly Entry<unknown>[]): readonly Entry<unknown>[] {
  const gone = new Set(removed);
  return entries.filter((entry) => !gone.has(entry));
}
