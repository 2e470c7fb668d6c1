import type { FeedOutcome } from '@jade-fence/contract';
import type { ListSort } from '@jade-fence/core/list';
import { BaseModel } from './base.js';

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
