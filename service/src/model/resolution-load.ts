import type { AnswerSourceKind } from '@jade-fence/core/resolution';
import { BaseModel } from './base.js';

/** Answers for hosts that came together. A state of the resolutions is all of them up to one of these. */
export class ResolutionLoad extends BaseModel {
  static override tableName = 'resolution_loads';
  static override jsonAttributes = ['faults'];
  id!: number;
  kind!: AnswerSourceKind | 'live' | 'folded';
  /** The file, server or log that they come from. */
  name!: string;
  /** Who has loaded them; null: the service itself. */
  actor!: string | null;
  /** Whether those before it do not count any more. */
  anew!: boolean;
  hosts!: number;
  faults!: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  faultCount!: number;
  data!: Buffer;
  loadedAt!: Date;
}
