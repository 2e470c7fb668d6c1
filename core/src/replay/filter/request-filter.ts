import type { ColumnTable } from '../../column/index.js';
import type { Verdict } from '../../policy/index.js';
import type { Catalogue } from '../catalogue.js';
import type { SideRole, Verdicts } from '../verdicts.js';

/** Which requests of a replay to show; an absent field selects all. `unseen` selects by fields that were not seen. */
export interface RequestFilter {
  readonly verdict?: Verdict | 'uncovered' | undefined;
  readonly policy?: string | undefined;
  /** A rule's name, or `default`. */
  readonly rule?: string | undefined;
  /** The role of the rule; default `decided`. */
  readonly role?: 'decided' | SideRole | undefined;
  /** A country code, `private`, `unknown`, or `unseen`. */
  readonly country?: string | undefined;
  /** As `country`, of the destination. */
  readonly destinationCountry?: string | undefined;
  /** The address of the destination: an address, a network or a range. */
  readonly destination?: string | undefined;
  /** An address, a network or a range. Pseudonyms are recognised and looked up before rows are filtered. */
  readonly client?: string | undefined;
  /** A host pattern, as in rules. */
  readonly host?: string | undefined;
  /** A path pattern, as in rules. */
  readonly path?: string | undefined;
  readonly method?: string | undefined;
  /** A status of three digits, or a class of them, such as `4xx`. */
  readonly status?: string | undefined;
  /** A category, or `uncategorised`. */
  readonly category?: string | undefined;
  /** An application, or `unidentified`. */
  readonly application?: string | undefined;
  /** Milliseconds since 1970: from this time on, and before that. */
  readonly from?: number | undefined;
  readonly to?: number | undefined;
}

/** The parts of a chunk that a filter tests. */
export interface FilterInput {
  readonly verdicts: Verdicts;
  /** The chunk of the log; only when the filter tests fields of requests (`asksForRequest`). */
  readonly table?: ColumnTable | undefined;
  /** Only when it tests a category or application (`asksForCatalogue`). */
  readonly catalogue?: Catalogue | undefined;
}

/** The fields of a filter that the log alone answers. */
export const LOG_FILTER_FIELDS = [
  'destination',
  'host',
  'path',
  'method',
  'status',
  'from',
  'to',
  'category',
  'application',
] as const;

/** Whether the filter has to look at the requests, beside their verdicts. */
export const asksForRequest = (filter: RequestFilter): boolean =>
  LOG_FILTER_FIELDS.some((field) => filter[field] !== undefined);

/** Whether the filter tests the outcome of requests. */
export const asksForOutcome = ({ verdict, policy, rule, role }: RequestFilter): boolean =>
  [verdict, policy, rule, role].some((field) => field !== undefined);

/** True where a filter needs categories or applications, which have to be found first. */
export const asksForCatalogue = ({ category, application }: RequestFilter): boolean =>
  category !== undefined || application !== undefined;

/** The part of a filter that can limit a replay: fields of the log, known before anything is judged. */
export type LogFilter = Pick<RequestFilter, (typeof LOG_FILTER_FIELDS)[number]>;
