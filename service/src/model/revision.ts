import type { DocumentKind } from '@jade-fence/core/text';
import { BaseModel } from './base.js';

/** A published state of the workspace. It is never changed; the numbers have no gaps. */
export class Revision extends BaseModel {
  static override tableName = 'revisions';
  static override idColumn = 'number';
  static override jsonAttributes = ['versionIds'];
  number!: number;
  message!: string;
  author!: string;
  /** The second pair of eyes; null when none was required. */
  approvedBy!: string | null;
  versionIds!: number[];
  countryDataId!: number | null;
  publishedAt!: Date;
  /** Whether it has chosen objects of the draft alone, so that there may be older edits that no revision has. */
  partial!: boolean;
}

/** An object of the draft that a proposal is of, as it was: its version, or null where it was removed. */
export interface ChosenVersion {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly versionId: number | null;
}

/** A draft that somebody asks another to publish. */
export class Proposal extends BaseModel {
  static override tableName = 'proposals';
  static override jsonAttributes = ['objects'];
  id!: number;
  message!: string;
  author!: string;
  /** The number of the draft that it is of: a draft that has changed since is another. */
  draft!: number;
  /** The objects that it is of, as they were; null: all of the draft. */
  objects!: ChosenVersion[] | null;
  state!: 'open' | 'published' | 'withdrawn';
  proposedAt!: Date;
}
