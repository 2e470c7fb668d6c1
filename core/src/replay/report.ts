import type { Unseen } from '../engine/index.js';
import type { CurvePoint } from '../limit/index.js';
import type { ActionType, Policy, Record as Recorded, Stance, Verdict } from '../policy/index.js';

/** The result of a replay, in figures. Plain data; the same log and the same workspace give the same report. */
export interface Report {
  readonly requests: number;
  /** Requests that no policy covers; they have no verdict. */
  readonly uncovered: number;
  readonly verdicts: Readonly<Record<Verdict, number>>;
  /** The actions taken: fewer blocks than `verdicts` has when a policy only observes. */
  readonly effects: Readonly<Record<Verdict, number>>;
  /** Times of the earliest and latest request, RFC 3339; null where no request has a time. */
  readonly first: string | null;
  readonly last: string | null;
  readonly policies: readonly PolicyReport[];
  /** Requests by what they are. */
  readonly breakdowns: Breakdowns;
}

/** The dimensions by which a report counts requests. */
export const DIMENSIONS = [
  ...([
    'country',
    'client',
    'destination-country',
    'host',
    'category',
    'application',
    'method',
    'status',
    'hour',
  ] as const),
] as const;
export type Dimension = (typeof DIMENSIONS)[number];

/**
 * By each dimension the keys with most requests first; statuses and hours in their order. An hour is given as the instant
 * that it begins at, in UTC. A request may be in several categories and applications, and go to several countries. The status is what the log says
 * was answered then, which no rule reads. Reports of replays before destinations had a country lack that dimension.
 */
export type Breakdowns = Readonly<Record<Dimension, Breakdown>>;

export interface Breakdown {
  readonly rows: readonly Share[];
  /** How many keys the report leaves out. */
  readonly more: number;
  /** How many requests had keys that found no room, and are not among these. */
  readonly beyond: number;
}

/** `null` is a key that is unseen or unknown. */
export type Share = { readonly key: string | null } & Shared;

export interface PolicyReport {
  readonly policy: string;
  readonly stance: Stance;
  readonly clientFrom: Policy['client']['from'];
  readonly requests: number;
  readonly verdicts: Readonly<Record<Verdict, number>>;
  readonly rules: readonly RuleReport[];
  /** Of a policy that resolves destinations; left out for others. */
  readonly unresolved?: UnresolvedHosts;
  /** Remarks for the policy's writer. */
  readonly remarks: readonly Remark[];
  readonly default: {
    readonly then: Verdict;
    readonly sentence: string;
    readonly arrived: number;
    readonly decided: number;
  };
}

/** Hosts that requests went to without showing the address, and of which no address is known. */
export interface UnresolvedHosts {
  readonly requests: number;
  readonly hosts: number;
  /** Requests to hosts that found no room and are not among `hosts`. */
  readonly beyond: number;
  /** Those with most requests, the most first. */
  readonly most: readonly { readonly host: string; readonly requests: number }[];
}

export interface RuleReport {
  readonly rule: string;
  readonly sentence: string;
  readonly stance: Stance;
  readonly then: ActionType;
  readonly record: Recorded;
  /** Requests that no rule above had decided. */
  readonly arrived: number;
  readonly decided: number;
  /** Requests that it put its tags on. */
  readonly tagged: number;
  readonly observed: number;
  readonly overtaken: number;
  readonly blind: number;
  /** Which earlier rules had decided the overtaken requests, the most first. */
  readonly overtakenBy: readonly { readonly rule: string; readonly requests: number }[];
  /** Which fields blind requests did not show. */
  readonly unseen: readonly { readonly field: Unseen; readonly requests: number }[];
  /** Times of the first and last request that the rule decided, tagged or observed; null where there is none. */
  readonly first: string | null;
  readonly last: string | null;
  /** The counts of its limit; null for none. */
  readonly limit: LimitReport | null;
}

export interface LimitReport {
  readonly counts: 'requests' | 'bytes';
  readonly moreThan: number;
  /** Seconds. */
  readonly within: number;
  /** How many keys were over the limit at some time. */
  readonly keysOver: number;
  /** How many keys would have been over with other thresholds. */
  readonly curve: readonly CurvePoint[];
  /** How often a key was too many to be kept for the curve. */
  readonly uncounted: number;
  /** The fields of the key, as written in the rule. */
  readonly per: readonly string[];
  /** The keys with the highest peaks within the span, and when they had them. */
  readonly worst: readonly WorstKey[];
}

/** Something in a policy's figures that its writer should look at. */
export interface Remark {
  /** Null where it is about the policy. */
  readonly rule: string | null;
  readonly code: 'always-overtaken' | 'no-match' | 'blind' | 'forgotten-proxy' | 'client-unseen' | 'unresolved';
  readonly text: string;
  /** The address that it names; left out where it names none. */
  readonly address?: string;
}

/** How many requests there were, and of those with each verdict. */
export type Shared = { readonly requests: number } & Readonly<Record<Verdict | 'uncovered', number>>;

/** A key that was over its limit. */
export interface WorstKey {
  readonly key: string;
  /** The request's value of each field of `per`. */
  readonly parts: readonly string[];
  readonly peak: number;
  readonly at: string;
}
