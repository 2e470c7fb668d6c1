import type { ListSort } from '@jade-fence/core';
import { BaseModel } from './base.js';

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

/** A list that others keep, which is fetched from them from time to time. */
export class Feed extends BaseModel {
  static override tableName = 'feeds';
  static override idColumn = 'list';
  static override jsonAttributes = ['last'];
  list!: string;
  sort!: ListSort;
  source!: string;
  everySeconds!: number;
  allowPrivate!: boolean;
  /** Whether what changed is published by itself. */
  publish!: boolean;
  madeBy!: string;
  tag!: string | null;
  nextAt!: Date;
  last!: FeedOutcome | null;
  /** When it was fetched last and held; null: never yet. */
  goodAt!: Date | null;
}
