import type { Entry, List } from './list.js';

const known = new WeakMap<List, boolean>();

/** Whether the entry still counts at the instant. */
export const isAlive = (entry: Pick<Entry<unknown>, 'until'>, at: number): boolean =>
  entry.until === undefined || entry.until > at;

/** The entries that stop to count some day. A list of a million is looked through once for them, and not with each edit. */
export function endingEntries(list: List): readonly Entry<unknown>[] {
  const entries: readonly Entry<unknown>[] = list.entries;
  return hasEnds(list) ? entries.filter(({ until }) => until !== undefined) : [];
}

function hasEnds(list: List): boolean {
  const found = known.get(list) ?? lookForEnds(list);
  known.set(list, found);
  return found;
}

function lookForEnds({ entries, edited }: List): boolean {
  const own: readonly Pick<Entry<unknown>, 'until'>[] =
    edited && !hasEnds(edited.from as List) ? edited.added : entries;
  return own.some(({ until }) => until !== undefined);
}
