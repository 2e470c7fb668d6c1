import type { ListSort } from '@jade-fence/core/list';

/** What a try to refresh a list came to. */
export interface FeedOutcome {
  readonly at: string;
  readonly outcome: 'changed' | 'unchanged' | 'failed';
  readonly added: number;
  readonly removed: number;
  /** Lines that do not hold and were left out. */
  readonly left: number;
  /** Why it failed, or was not published; null where there is nothing to say. */
  readonly what: string | null;
  /** The revision that it was published as. */
  readonly revision: number | null;
}

/** Where a list is fetched from. Times are RFC 3339. */
export interface FeedBody {
  readonly list: string;
  readonly of: ListSort;
  readonly source: string;
  /** Seconds. */
  readonly every: number;
  readonly allowPrivate: boolean;
  readonly publish: boolean;
  readonly madeBy: string;
  readonly nextAt: string;
  /** When it was fetched last and held; null: never yet. */
  readonly goodAt: string | null;
  readonly last: FeedOutcome | null;
}

/** Where a list is to be fetched from; what is left out is as it begins. */
export type FeedOrder = Pick<FeedBody, 'of' | 'source'> & Partial<Pick<FeedBody, 'every' | 'allowPrivate' | 'publish'>>;

export interface FeedsPage {
  readonly feeds: readonly FeedBody[];
  /** Where files of feeds are looked for. */
  readonly folder: string;
  readonly next: string | null;
}
