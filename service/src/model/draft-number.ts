import { BaseModel } from './base.js';

/** The number of the draft: one row. It goes up with every change. */
export class DraftNumber extends BaseModel {
  static override tableName = 'draft';
  id!: 1;
  number!: number;
}
