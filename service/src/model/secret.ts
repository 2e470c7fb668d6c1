import { BaseModel } from './base.js';

/** A key that this database keeps for all services that share it. */
export class Secret extends BaseModel {
  static override tableName = 'secrets';
  static override idColumn = 'name';
  name!: string;
  value!: Buffer;
}
