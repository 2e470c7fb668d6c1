import type { Entry, List, ListSort } from '../list/index.js';
import { quoted, setWords, some } from './words.js';

const NOUNS: Readonly<Record<ListSort, readonly [one: string, more: string]>> = {
  addresses: ['address', 'addresses'],
  countries: ['country', 'countries'],
  domains: ['domain', 'domains'],
  urls: ['URL', 'URLs'],
  users: ['user', 'users'],
  agents: ['agent', 'agents'],
};

/** The differences between two states of one list, a sentence each. */
export function listWords(before: List, after: List): string[] {
  if (before.of !== after.of)
    return [`it was a list of ${before.of}; it is one of ${after.of}, with ${counted(after, after.entries)}`];
  const [oldOnes, newOnes] = unshared(before.entries, after.entries);
  const old = byText(oldOnes);
  const now = byText(newOnes);
  const added = newOnes.filter(({ text }) => !old.has(text));
  const removed = oldOnes.filter(({ text }) => !now.has(text));
  const kept = newOnes.flatMap((entry) => {
    const was = old.get(entry.text);
    return was ? [{ was, entry }] : [];
  });
  const expiries = kept.filter(({ was, entry }) => was.until !== entry.until).map(({ entry }) => entry.text);
  const notes = kept.filter(({ was, entry }) => was.note !== entry.note).map(({ entry }) => entry.text);
  const includes = (list: List) => list.include.map(({ name }) => name);
  return [
    ...(added.length > 0 ? [`${counted(after, added)} added to ${quoted(after.name)}: ${named(added)}`] : []),
    ...(removed.length > 0 ? [`${counted(after, removed)} taken from ${quoted(after.name)}: ${named(removed)}`] : []),
    ...setWords('the lists that it includes', includes(before), includes(after)),
    ...(expiries.length > 0 ? [`another end of ${some(expiries)}`] : []),
    ...(notes.length > 0 ? [`another note at ${some(notes)}`] : []),
  ];
}

/** «3 addresses». */
export function counted({ of }: List, entries: readonly unknown[]): string {
  return `${entries.length.toLocaleString('en')} ${NOUNS[of][entries.length === 1 ? 0 : 1]}`;
}

const named = (entries: readonly Entry<unknown>[]): string => some(entries.map(({ text }) => text));

const byText = (entries: readonly Entry<unknown>[]): Map<string, Entry<unknown>> =>
  new Map(entries.map((entry) => [entry.text, entry]));

type Entries = readonly Entry<unknown>[];

/** Both without the entries that they share at the beginning and at the end: an edit of a long list is small. */
function unshared(before: Entries, after: Entries): [before: Entries, after: Entries] {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  let end = 0;
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return [before.slice(start, before.length - end), after.slice(start, after.length - end)];
}
