import { type AddressRange, type AddressSet, addressSet } from '../address/index.js';
import { type DomainPattern, type DomainSet, domainSet } from '../domain/index.js';
import type { TextPattern } from '../pattern/index.js';
import type { UrlPattern } from '../url/index.js';
import { type Lists, withIncluded } from './link.js';
import type { Entry, List, ListSort } from './list.js';

/** What each list holds at one instant, with all that it includes, ready to search. */
export interface ListSets {
  readonly addresses: ReadonlyMap<string, AddressSet>;
  readonly countries: ReadonlyMap<string, ReadonlySet<string>>;
  readonly domains: ReadonlyMap<string, DomainSet>;
  readonly urls: ReadonlyMap<string, readonly UrlPattern[]>;
  readonly users: ReadonlyMap<string, ReadonlySet<string>>;
  readonly agents: ReadonlyMap<string, readonly TextPattern[]>;
}

interface ValueOf {
  readonly addresses: AddressRange;
  readonly countries: string;
  readonly domains: DomainPattern;
  readonly urls: UrlPattern;
  readonly users: string;
  readonly agents: TextPattern;
}

/** Compiles all lists. Entries that have expired at the instant `at`, in milliseconds since 1970, are left out. */
export function compileLists(lists: Lists, at: number): ListSets {
  return {
    addresses: compileSort(lists, 'addresses', at, addressSet),
    countries: compileSort(lists, 'countries', at, (codes) => new Set(codes)),
    domains: compileSort(lists, 'domains', at, domainSet),
    urls: compileSort(lists, 'urls', at, (patterns) => patterns),
    users: compileSort(lists, 'users', at, (users) => new Set(users)),
    agents: compileSort(lists, 'agents', at, (patterns) => patterns),
  };
}

function compileSort<S extends ListSort, C>(
  lists: Lists,
  sort: S,
  at: number,
  compile: (values: readonly ValueOf[S][]) => C,
): Map<string, C> {
  const found = new Map<string, C>();
  for (const list of lists.values())
    if (list.of === sort) found.set(list.name, compile(aliveValues(lists, list, sort, at)));
  return found;
}

/** The values of a list and of all that it includes, less those of entries that have expired at the instant. */
export function aliveValues<S extends ListSort>(lists: Lists, list: List, sort: S, at: number): ValueOf[S][] {
  const values: ValueOf[S][] = [];
  for (const each of withIncluded(lists, list)) {
    if (each.of !== sort) continue;
    for (const entry of each.entries) if (isAlive(entry, at)) values.push(entry.value as ValueOf[S]);
  }
  return values;
}

/** Whether the entry still counts at the instant. */
export const isAlive = (entry: Entry<unknown>, at: number): boolean => entry.until === undefined || entry.until > at;
