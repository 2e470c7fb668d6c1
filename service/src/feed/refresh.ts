import { type FeedOutcome, mayAct } from '@jade-fence/contract';
import type { Entry, List } from '@jade-fence/core/list';
import { readListFile } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { Refusal } from '../fault/refusal.js';
import type { Feed } from '../model/feed.js';
import { Person } from '../model/person.js';
import { publishOne } from '../revision/publish-one.js';
import { editEntries, takeEntries } from '../workspace/entries.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { currentDocument } from '../workspace/store.js';
import { type Fetched, fetchFeed } from './fetch.js';
import { saveOutcome } from './store.js';

/** More than that is stored as a whole. */
const MOST_EDITS = 10_000;

export interface RefreshParts {
  readonly knex: Knex;
  readonly states: PreparedStates;
  /** The folder that files of feeds are in. */
  readonly folder: string;
  readonly signal: AbortSignal;
}

/** Fetches a list and makes the draft hold it. Where that fails, all stays as it was, and the outcome says why. */
export async function refreshFeed(parts: RefreshParts, feed: Feed): Promise<FeedOutcome> {
  const at = new Date().toISOString();
  const nothing = { at, added: 0, removed: 0, left: 0, what: null, revision: null };
  let tag: string | null | undefined;
  let outcome: FeedOutcome;
  try {
    const fetched = await fetchFeed({ ...feed, folder: parts.folder, signal: parts.signal });
    tag = fetched === 'unchanged' ? undefined : fetched.tag;
    outcome = { ...nothing, outcome: 'unchanged', ...(await taken(parts, feed, fetched)) };
  } catch (error) {
    outcome = { ...nothing, outcome: 'failed', what: wordsOf(error) };
  }
  await saveOutcome(parts.knex, feed, outcome, tag);
  return outcome;
}

const wordsOf = (error: unknown): string => {
  const shown = error instanceof Refusal ? [error.detail, ...(error.issues ?? []).map(({ what }) => what)] : [];
  return shown.length > 0 ? shown.slice(0, 4).join(' ') : (error as Error).message;
};

type Taken = Partial<Omit<FeedOutcome, 'at'>>;

async function taken(parts: RefreshParts, feed: Feed, fetched: Fetched): Promise<Taken> {
  if (fetched === 'unchanged') return {};
  const { knex, states } = parts;
  const file = readListFile(feed.list, feed.sort, fetched.text);
  const fresh = file.list?.entries ?? [];
  if (fresh.length === 0) throw new Error('No line of it holds as an entry, so that the list was left as it is.');
  if (file.faults.length > fresh.length)
    throw new Error(
      `Most of its lines are invalid as ${feed.sort}, such as line ${file.faults[0]?.line}: ${file.faults[0]?.what}. The list was left as it is.`,
    );
  const stored = await currentDocument(knex, 'list', feed.list);
  const [read] = stored ? await states.readings.load(knex, [stored]) : [];
  const before = read?.objects[0]?.object;
  const old = before?.type === 'list' && before.of === feed.sort ? before : undefined;
  const { add, remove } = between(old?.entries ?? [], fresh);
  const counts = { added: add.length, removed: remove.length, left: file.faults.length };
  if (old && add.length + remove.length === 0) return { ...counts, outcome: 'unchanged' };
  const by = `feed ${feed.list}`;
  if (old && add.length + remove.length <= MOST_EDITS) {
    const edit = { name: feed.list, add: add.map(({ text, note }) => ({ entry: text, note })), remove, by };
    await editEntries(knex, states.readings, edit);
  } else {
    await takeEntries(knex, states.readings, { name: feed.list, skip: true, by }, file);
  }
  return { ...counts, outcome: 'changed', ...(feed.publish && (await published(parts, feed, counts))) };
}

/** Publishes the list alone, whatever else is in the draft; says why where that cannot be. */
async function published(
  { knex, states }: RefreshParts,
  { list, source, madeBy }: Feed,
  { added, removed }: { readonly added: number; readonly removed: number },
): Promise<Taken> {
  const person = await Person.query(knex).findOne({ name: madeBy });
  if (!person || person.disabled || !mayAct(person.role, 'publisher'))
    return { what: `It is in the draft and was not published: ${madeBy}, who set the feed, may not publish any more.` };
  const message = `${list} as of ${source}: ${added} added, ${removed} removed`;
  try {
    const { number } = await publishOne(knex, states, { kind: 'list', name: list, message, by: madeBy });
    return { revision: number };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { what: `It is in the draft and was not published: ${wordsOf(error)}` };
  }
}

/** What is to be added and removed so that the one run of entries has what the other has. */
function between(before: List['entries'], after: List['entries']) {
  const notesOf = (entries: List['entries']) => {
    const notes = new Map<string, string | undefined>();
    for (const { text, note } of entries) notes.set(text, note);
    return notes;
  };
  const missingIn = (notes: ReadonlyMap<string, string | undefined>, entries: List['entries']) => {
    const missing: Entry<unknown>[] = [];
    for (const entry of entries)
      if (!notes.has(entry.text) || notes.get(entry.text) !== entry.note) missing.push(entry);
    return missing;
  };
  const add = missingIn(notesOf(before), after);
  return { add, remove: missingIn(notesOf(after), before).map(({ text }) => text) };
}
