import { BaseModel } from './base.js';

/** How the parts of logs are taken for fields, kept by name. */
export class SavedMapping extends BaseModel {
  static override tableName = 'mappings';
  static override idColumn = 'name';
  static override jsonAttributes = ['columns'];
  name!: string;
  /** The column, or the place in JSON, that each field is in. */
  columns!: Readonly<Record<string, string>>;
  /** The time zone of times without an offset. */
  zone!: string | null;
  /** The shape of lines of text; null where it is not for text. */
  pattern!: string | null;
}
