import { BaseModel } from './base.js';

/** A published state of the workspace. It is never changed; the numbers have no gaps. */
export class Revision extends BaseModel {
  static override tableName = 'revisions';
  static override idColumn = 'number';
  static override jsonAttributes = ['versionIds'];
  number!: number;
  message!: string;
  author!: string;
  /** The second pair of eyes; null where none was asked for. */
  approvedBy!: string | null;
  versionIds!: number[];
  countryDataId!: number | null;
  publishedAt!: Date;
}

/** A draft that somebody asks another to publish. */
export class Proposal extends BaseModel {
  static override tableName = 'proposals';
  id!: number;
  message!: string;
  author!: string;
  /** The number of the draft that it is of: a draft that has changed since is another. */
  draft!: number;
  state!: 'open' | 'published' | 'withdrawn';
  proposedAt!: Date;
}
