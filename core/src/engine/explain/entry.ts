import { formatRange, rangeContains, rangeSize } from '../../address/index.js';
import { patternMatches } from '../../domain/index.js';
import { type Entry, isAlive, type List, withIncluded } from '../../list/index.js';
import { textMatches } from '../../pattern/index.js';
import { DEFAULT_PATHS, type PathSettings, urlMatches, urlPatternUnder } from '../../url/index.js';
import type { Prepared } from '../prepared.js';
import type { Seen } from './seen.js';

/** The entry of a list, or of one that it includes, that holds the value: the narrowest for addresses. */
export function findEntry(name: string, seen: Seen, prepared: Prepared, paths = DEFAULT_PATHS): FoundEntry | undefined {
  const { lists } = prepared.workspace;
  const list = lists.get(name);
  const found = list ? withIncluded(lists, list).flatMap((each) => entriesHolding(each, seen, prepared.at, paths)) : [];
  return found.sort((a, b) => (a.size < b.size ? -1 : a.size > b.size ? 1 : 0))[0];
}

export interface FoundEntry {
  readonly list: string;
  readonly text: string;
  readonly note: string | undefined;
  readonly size: bigint;
}

function entriesHolding(list: List, seen: Seen, at: number, paths: PathSettings): FoundEntry[] {
  const shown = (entry: Entry<unknown>, text: string, size: bigint): FoundEntry => ({
    list: list.name,
    text,
    note: entry.note,
    size,
  });
  const { addresses, texts, url } = seen;
  const found = <T>(entries: readonly Entry<T>[], holds: (value: T) => boolean) =>
    entries.filter((entry) => isAlive(entry, at) && holds(entry.value));
  switch (list.of) {
    case 'addresses':
      return found(list.entries, (range) => addresses.some((address) => rangeContains(range, address))).map((entry) =>
        shown(entry, formatRange(entry.value), rangeSize(entry.value)),
      );
    case 'countries':
    case 'users':
      return found(list.entries, (value) => texts.includes(value)).map((entry) => shown(entry, entry.text, 0n));
    case 'domains':
      return found(list.entries, (pattern) => texts.some((text) => patternMatches(pattern, text))).map((entry) =>
        shown(entry, entry.text, BigInt(-entry.value.name.length)),
      );
    case 'urls':
      return found(
        list.entries,
        (pattern) => url !== undefined && urlMatches(urlPatternUnder(paths, pattern), url) === 'match',
      ).map((entry) => shown(entry, entry.text, 0n));
    case 'agents':
      return found(list.entries, (pattern) => texts.some((text) => textMatches(pattern, text))).map((entry) =>
        shown(entry, entry.text, 0n),
      );
  }
}
