import { BaseModel } from './base.js';

/** Something that somebody did. Entries are added and never changed. */
export class AuditEntry extends BaseModel {
  static override tableName = 'audit';
  id!: number;
  at!: Date;
  /** Null where nobody was known. */
  actor!: string | null;
  action!: string;
  kind!: string | null;
  name!: string | null;
  detail!: Record<string, unknown>;
}
