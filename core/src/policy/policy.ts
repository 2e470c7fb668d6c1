import type { AddressRange } from '../address/index.js';
import type { DomainPattern } from '../domain/index.js';
import type { Site, Span } from '../issue/index.js';
import type { Reference } from '../list/index.js';
import type { PathPattern } from '../url/index.js';

/** An ordered run of rules, a default, and what it covers. */
export interface Policy {
  readonly type: 'policy';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  readonly covers: Covers;
  readonly client: ClientSource;
  readonly default: Verdict;
  readonly stance: Stance;
  readonly rules: readonly Rule[];
}

export const VERDICTS = ['allow', 'block'] as const;
export type Verdict = (typeof VERDICTS)[number];

export const STANCES = ['enforce', 'observe', 'off'] as const;
export type Stance = (typeof STANCES)[number];

export const IF_BLIND = ['match', 'no-match'] as const;
export type IfBlind = (typeof IF_BLIND)[number];

/** The hosts (inbound) and client addresses (outbound) that a policy speaks for. */
export interface Covers {
  readonly hosts: readonly HostTerm[];
  readonly clients: readonly AddressTerm[];
}

/** Where the client's address is taken from. A header counts only as far as trusted proxies vouch for it. */
export type ClientSource =
  | { readonly from: 'peer' }
  | { readonly from: 'forwarded'; readonly trust: readonly AddressTerm[] }
  | { readonly from: 'header'; readonly header: string; readonly trust: readonly AddressTerm[] };

export interface Rule {
  readonly name: string;
  readonly note: string | undefined;
  /** Any of the conditions may hold; an empty list holds for every request. */
  readonly when: readonly Condition[];
  /** Exceptions: the rule does not match where any of these holds. */
  readonly unless: readonly Condition[];
  readonly then: Verdict;
  readonly stance: Stance;
  /** Whether the rule matches where it cannot be judged: the cautious choice for a refusal. */
  readonly ifBlind: IfBlind;
  readonly span: Span;
}

/** Tests of different fields, all of which must hold. */
export type Condition = readonly Test[];

export type Test =
  | TestOf<'client', AddressTerm>
  | TestOf<'peer', AddressTerm>
  | TestOf<'country', CountryTerm>
  | TestOf<'host', HostTerm>
  | TestOf<'path', PathTerm>
  | TestOf<'method', MethodTerm>
  | TestOf<'scheme', TokenTerm>
  | TestOf<'protocol', TokenTerm>
  | TestOf<'port', PortTerm>;

export type Field = Test['field'];
export const FIELDS = [
  'client',
  'peer',
  'country',
  'host',
  'path',
  'method',
  'scheme',
  'protocol',
  'port',
] as const satisfies readonly Field[];

interface TestOf<F extends string, T> {
  readonly field: F;
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
export type MethodTerm = TermOf<'method'> & { readonly method: string };
/** A scheme in lower case, or a protocol in capitals. */
export type TokenTerm = TermOf<'token'> & { readonly token: string };
/** Ports from `first` to `last`, both included. */
export type PortTerm = TermOf<'port'> & { readonly first: number; readonly last: number };
export type Term = AddressTerm | CountryTerm | HostTerm | PathTerm | MethodTerm | TokenTerm | PortTerm;
