import { type Address, formatRange, rangeContains, rangeSize } from '../../address/index.js';
import { patternMatches } from '../../domain/index.js';
import { type Entry, isAlive, type List, withIncluded } from '../../list/index.js';
import type { Prepared } from '../prepared.js';

/** The entry of a list, or of one that it includes, that holds the value: the narrowest for addresses. */
export function findEntry(name: string, seen: Address | string, prepared: Prepared): FoundEntry | undefined {
  const { lists } = prepared.workspace;
  const list = lists.get(name);
  const found = list ? withIncluded(lists, list).flatMap((each) => entriesHolding(each, seen, prepared.at)) : [];
  return found.sort((a, b) => (a.size < b.size ? -1 : a.size > b.size ? 1 : 0))[0];
}

export interface FoundEntry {
  readonly list: string;
  readonly text: string;
  readonly note: string | undefined;
  readonly size: bigint;
}

function entriesHolding(list: List, seen: Address | string, at: number): FoundEntry[] {
  const told = (entry: Entry<unknown>, text: string, size: bigint): FoundEntry => ({
    list: list.name,
    text,
    note: entry.note,
    size,
  });
  switch (list.of) {
    case 'addresses':
      return list.entries
        .filter((entry) => isAlive(entry, at) && typeof seen !== 'string' && rangeContains(entry.value, seen))
        .map((entry) => told(entry, formatRange(entry.value), rangeSize(entry.value)));
    case 'countries':
      return list.entries
        .filter((entry) => isAlive(entry, at) && entry.value === seen)
        .map((entry) => told(entry, entry.value, 0n));
    case 'domains':
      return list.entries
        .filter((entry) => isAlive(entry, at) && typeof seen === 'string' && patternMatches(entry.value, seen))
        .map((entry) => told(entry, entry.text, BigInt(-entry.value.name.length)));
  }
}
