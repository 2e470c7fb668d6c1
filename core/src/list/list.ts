import type { AddressRange } from '../address/index.js';
import type { DomainPattern } from '../domain/index.js';
import type { TextPattern } from '../pattern/index.js';
import type { NamePlace } from '../text/index.js';
import type { UrlPattern } from '../url/index.js';

/** Named entries of one sort, and the lists of the same sort that it includes. */
export type List = AddressList | CountryList | DomainList | UrlList | UserList | AgentList;

export const LIST_SORTS = ['addresses', 'countries', 'domains', 'urls', 'users', 'agents'] as const;
export type ListSort = (typeof LIST_SORTS)[number];

export type AddressList = ListOf<'addresses', AddressRange>;
export type CountryList = ListOf<'countries', string>;
export type DomainList = ListOf<'domains', DomainPattern>;
export type UrlList = ListOf<'urls', UrlPattern>;
/** Users or groups, in lower case. */
export type UserList = ListOf<'users', string>;
export type AgentList = ListOf<'agents', TextPattern>;

interface ListOf<S extends ListSort, T> {
  readonly type: 'list';
  readonly of: S;
  readonly name: string;
  readonly file: string;
  readonly entries: readonly Entry<T>[];
  readonly include: readonly Reference[];
  /** Where the list was made from another by a few edits: what they come to. */
  readonly edited?: Edited<T>;
}

/** The edits that turn one list into another of the same sort. */
export interface Edited<T> {
  readonly from: ListOf<ListSort, T>;
  readonly added: readonly Entry<T>[];
  readonly removed: readonly Entry<T>[];
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
export type Reference = NamePlace;
