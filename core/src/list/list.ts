import type { AddressRange } from '../address/index.js';
import type { DomainPattern } from '../domain/index.js';
import type { Site } from '../issue/index.js';

/** Named entries of one sort, and the lists of the same sort that it includes. */
export type List = AddressList | CountryList | DomainList;

export const LIST_SORTS = ['addresses', 'countries', 'domains'] as const;
export type ListSort = (typeof LIST_SORTS)[number];

export type AddressList = ListOf<'addresses', AddressRange>;
export type CountryList = ListOf<'countries', string>;
export type DomainList = ListOf<'domains', DomainPattern>;

interface ListOf<S extends ListSort, T> {
  readonly type: 'list';
  readonly of: S;
  readonly name: string;
  readonly file: string;
  readonly entries: readonly Entry<T>[];
  readonly include: readonly Reference[];
}

export interface Entry<T> {
  readonly value: T;
  /** The entry as it was written. */
  readonly text: string;
  readonly note: string | undefined;
  /** When the entry stops to count, in milliseconds since 1970. */
  readonly until: number | undefined;
}

/** A name that a document speaks of, and where. */
export interface Reference {
  readonly name: string;
  readonly at: Site;
}
