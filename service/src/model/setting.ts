import { BaseModel } from './base.js';

/** What administrators chose in place of a default. */
export class Setting extends BaseModel {
  static override tableName = 'settings';
  static override idColumn = 'name';
  static override jsonAttributes = ['value'];
  name!: string;
  value!: unknown;
}
