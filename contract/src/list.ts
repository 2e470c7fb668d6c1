import type { ListSort, Overlap } from '@jade-fence/core/list';
import type { ListUser } from '@jade-fence/core/workspace';
import type { StoredBody } from './object.js';
import type { PageQuery } from './page.js';

export interface ListSummary {
  readonly list: string;
  readonly of: ListSort;
  readonly entries: number;
  readonly expired: number;
  readonly include: readonly string[];
  /** The policies that use it, directly or through a list that includes it. */
  readonly usedBy: readonly string[];
}

export type ListBody = ListSummary &
  StoredBody & {
    /** The rules that use it, and the policies that cover by it or trust it. */
    readonly users: readonly ListUser[];
    /** How many single addresses it covers, as a whole number in text; null for other lists. */
    readonly addresses: string | null;
  };

/** One entry of a list. */
export interface EntryBody {
  /** Its place in the list, from 1. */
  readonly number: number;
  readonly entry: string;
  readonly note: string | null;
  readonly until: string | null;
  readonly expired: boolean;
}

export interface EntriesPage {
  readonly entries: readonly EntryBody[];
  readonly next: number | null;
}

/** The result of adding and removing entries. */
export interface EntriesChanged {
  readonly list: string;
  readonly version: number;
  readonly entries: number;
  /** Those that were there already, and those to remove that were not. */
  readonly present: readonly string[];
  readonly missing: readonly string[];
}

/** A list that was brought from a file. */
export interface EntriesImported {
  readonly list: string;
  readonly version: number;
  readonly entries: number;
  /** Lines that do not hold, and were left out. */
  readonly left: readonly { readonly line: number; readonly what: string }[];
  readonly leftCount: number;
}

export interface ListQuery {
  /** False leaves out the text, which of a long list is large. */
  readonly text?: boolean;
}

export interface EntriesQuery extends PageQuery {
  /** Only those that have this text in them or their note. */
  readonly search?: string;
}

/** Entries that are to be added to a list, and removed. */
export interface EntriesChange {
  readonly add?: readonly { readonly entry: string; readonly note?: string; readonly until?: string }[];
  readonly remove?: readonly string[];
}

export interface EntriesImportQuery {
  readonly of: ListSort;
  /** Skip invalid lines, rather than refuse the file. */
  readonly skip?: boolean;
}

export interface OverlapQuery {
  /** Another list of the same sort. */
  readonly with?: string;
}

export type OverlapBody = Overlap & { readonly list: string; readonly with: string | null };
