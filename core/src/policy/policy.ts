import type { AddressTerm, Condition, HostTerm } from '../condition/index.js';
import type { Span } from '../issue/index.js';
import type { Limit } from '../limit/index.js';
import type { Redaction } from '../redact/index.js';
import type { PathSettings } from '../url/index.js';
import type { Action, FinalAction } from './action.js';

/** An ordered run of rules, a default, and what it covers. */
export interface Policy {
  readonly type: 'policy';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  readonly covers: Covers;
  readonly client: ClientSource;
  readonly destinations: DestinationSettings;
  readonly paths: PathSettings;
  readonly default: FinalAction;
  readonly stance: Stance;
  readonly rules: readonly Rule[];
  /** The redaction of requests that it judges. Rules see the real values all the same. */
  readonly redact: Redaction;
}

export const STANCES = ['enforce', 'observe', 'off'] as const;
export type Stance = (typeof STANCES)[number];

export const IF_BLIND = ['match', 'no-match'] as const;
export type IfBlind = (typeof IF_BLIND)[number];

/** How loudly a rule's matches are kept: not at all, in the log of decisions, or with an alert. */
export const RECORDS = ['quiet', 'log', 'alert'] as const;
export type Record = (typeof RECORDS)[number];

/** The loudest of them; `log` where there is none. */
export function loudest(records: readonly Record[]): Record {
  if (records.length === 0) return 'log';
  return RECORDS[Math.max(...records.map((record) => RECORDS.indexOf(record)))] as Record;
}

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

/** Where the addresses of destinations are taken from. */
export interface DestinationSettings {
  /** Whether, where a request does not show the address of its destination, the resolutions of its host do. */
  readonly resolve: boolean;
}

export interface Rule {
  readonly name: string;
  readonly note: string | undefined;
  /** Any of the conditions may hold; an empty list holds for every request. */
  readonly when: readonly Condition[];
  /** Exceptions: the rule does not match where any of these holds. */
  readonly unless: readonly Condition[];
  /** The rule matches only requests that exceed it; undefined: all that its conditions match. */
  readonly limit: Limit | undefined;
  readonly then: Action;
  readonly stance: Stance;
  readonly record: Record;
  /** Whether the rule matches where it cannot be judged: the cautious choice for a refusal. */
  readonly ifBlind: IfBlind;
  readonly span: Span;
}
