import type { RecordedBody } from '@jade-fence/contract';
import { BaseModel } from './base.js';

/** A live decision that was recorded. */
export class Decision extends BaseModel {
  static override tableName = 'decisions';
  static override jsonAttributes = ['shown'];
  id!: number;
  at!: Date;
  revision!: number;
  policy!: string | null;
  rule!: string | null;
  verdict!: string;
  effect!: string;
  record!: string;
  /** The reference that the client was shown, if it was stopped. */
  reference!: string | null;
  /** The request, redacted by its policy. Decisions of before lack the country of the destination. */
  shown!: Pick<RecordedBody, 'request' | 'client' | 'country'> & Partial<Pick<RecordedBody, 'destinationCountry'>>;
}
