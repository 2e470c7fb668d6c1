import { BaseModel } from './base.js';

/** How the columns of logs are taken, kept by name. */
export class SavedMapping extends BaseModel {
  static override tableName = 'mappings';
  static override idColumn = 'name';
  static override jsonAttributes = ['columns'];
  name!: string;
  /** The column that each field is in. */
  columns!: Readonly<Record<string, string>>;
  /** The time zone of times without an offset. */
  zone!: string | null;
}
