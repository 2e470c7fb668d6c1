import type { AddressRange } from '../address/index.js';
import type { DomainPattern } from '../domain/index.js';
import type { Site } from '../issue/index.js';
import type { Reference } from '../list/index.js';
import type { TextPattern } from '../pattern/index.js';
import type { PathPattern, UrlPattern } from '../url/index.js';
import type { NamedField } from './field.js';

/** Tests of different fields, all of which must hold. */
export type Condition = readonly Test[];

export type Test =
  | TestOf<'client' | 'peer' | 'destination', AddressTerm>
  | TestOf<'country' | 'destination-country', CountryTerm>
  | TestOf<'host', HostTerm>
  | TestOf<'path', PathTerm>
  | TestOf<'url', UrlTerm>
  | TestOf<'category' | 'application', NameTerm | NoneTerm>
  | TestOf<'tag' | 'time', NameTerm>
  | TestOf<'method' | 'scheme' | 'protocol', TokenTerm>
  | TestOf<'port', PortTerm>
  | TestOf<'user', UserTerm>
  | TestOf<'group', UserTerm>
  | TestOf<'agent' | 'referrer', TextTerm>
  | TestOf<'size', SizeTerm>
  | (TestOf<NamedField, TextTerm> & { readonly name: string });

interface TestOf<F extends string, T> {
  readonly field: F;
  /** The name behind the dot of `header.NAME`, `query.NAME` and `cookie.NAME`. */
  readonly name: string | undefined;
  /** Any of the values may match. */
  readonly values: readonly Value<T>[];
}

/** A term, or the negation of several: `not: [a, b]` matches what neither `a` nor `b` does. */
export type Value<T> = T | Negation<T>;

export interface Negation<T> {
  readonly type: 'not';
  readonly values: readonly T[];
}

interface TermOf<T extends string> {
  readonly type: T;
  readonly at: Site;
}

export type ListTerm = TermOf<'list'> & Reference;
export type AddressTerm = ListTerm | (TermOf<'range'> & { readonly range: AddressRange });
export type CountryTerm = ListTerm | (TermOf<'country'> & { readonly code: string }) | TermOf<'unknown' | 'private'>;
export type HostTerm = ListTerm | (TermOf<'host'> & { readonly pattern: DomainPattern });
export type PathTerm = TermOf<'path'> & { readonly pattern: PathPattern };
export type UrlTerm = ListTerm | (TermOf<'url'> & { readonly pattern: UrlPattern });
/** The name of a category, application, schedule or tag. */
export type NameTerm = TermOf<'name'> & Reference;
/** `uncategorised` or `unidentified`: in none of those that there are. */
export type NoneTerm = TermOf<'none'>;
/** A method or a protocol in capitals, or a scheme in lower case. */
export type TokenTerm = TermOf<'token'> & { readonly token: string };
/** Ports from `first` to `last`, both included. */
export type PortTerm = TermOf<'port'> & { readonly first: number; readonly last: number };
/** A user or group, in lower case; or `anonymous`, that there is none. */
export type UserTerm = ListTerm | (TermOf<'user'> & { readonly user: string }) | TermOf<'anonymous'>;
export type TextTerm =
  | ListTerm
  | (TermOf<'text'> & { readonly pattern: TextPattern })
  | TermOf<'present'>
  | TermOf<'absent'>;
export type SizeTerm = TermOf<'size'> & { readonly comparison: Comparison; readonly bytes: number };

export const COMPARISONS = ['<=', '>=', '<', '>'] as const;
export type Comparison = (typeof COMPARISONS)[number];

export type Term =
  | AddressTerm
  | CountryTerm
  | HostTerm
  | PathTerm
  | UrlTerm
  | NameTerm
  | NoneTerm
  | TokenTerm
  | PortTerm
  | UserTerm
  | TextTerm
  | SizeTerm;

/** The terms of a value: itself, or those that its `not` holds. */
export function termsOf<T extends Term>(value: Value<T>): readonly T[] {
  return value.type === 'not' ? (value as { readonly values: readonly T[] }).values : [value as T];
}

/** The values of a test, whatever its field. */
export const valuesOf = (test: Test): readonly Value<Term>[] => test.values;

/** The terms that a test requires, and those that it excludes. */
export function partTerms(test: Test): { readonly asked: readonly Term[]; readonly left: readonly Term[] } {
  const values = valuesOf(test);
  return {
    asked: values.filter((value) => value.type !== 'not').flatMap((value) => termsOf(value)),
    left: values.filter((value) => value.type === 'not').flatMap((value) => termsOf(value)),
  };
}
