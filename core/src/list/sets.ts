import { type AddressSet, addressSet } from '../address/index.js';
import { type DomainSet, domainSet } from '../domain/index.js';
import { type Lists, withIncluded } from './link.js';
import type { Entry } from './list.js';

/** What each list holds at one instant, with all that it includes, ready to search. */
export interface ListSets {
  readonly addresses: ReadonlyMap<string, AddressSet>;
  readonly countries: ReadonlyMap<string, ReadonlySet<string>>;
  readonly domains: ReadonlyMap<string, DomainSet>;
}

/** Compiles all lists. Entries that have expired at the instant `at`, in milliseconds since 1970, are left out. */
export function compileLists(lists: Lists, at: number): ListSets {
  const addresses = new Map<string, AddressSet>();
  const countries = new Map<string, ReadonlySet<string>>();
  const domains = new Map<string, DomainSet>();
  for (const list of lists.values()) {
    const all = withIncluded(lists, list);
    switch (list.of) {
      case 'addresses':
        addresses.set(
          list.name,
          addressSet(all.flatMap((each) => (each.of === 'addresses' ? alive(each.entries, at) : []))),
        );
        break;
      case 'countries':
        countries.set(
          list.name,
          new Set(all.flatMap((each) => (each.of === 'countries' ? alive(each.entries, at) : []))),
        );
        break;
      case 'domains':
        domains.set(
          list.name,
          domainSet(all.flatMap((each) => (each.of === 'domains' ? alive(each.entries, at) : []))),
        );
        break;
    }
  }
  return { addresses, countries, domains };
}

/** Whether the entry still counts at the instant. */
export const isAlive = (entry: Entry<unknown>, at: number): boolean => entry.until === undefined || entry.until > at;

function alive<T>(entries: readonly Entry<T>[], at: number): T[] {
  return entries.filter((entry) => isAlive(entry, at)).map((entry) => entry.value);
}
