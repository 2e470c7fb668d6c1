import { BaseModel } from './base.js';

/** A key that opens the service. Only its hash is kept. */
export class AccessKey extends BaseModel {
  static override tableName = 'access_keys';
  id!: number;
  hash!: string;
}

/** A browser that has signed in. Only the hash of its token is kept. */
export class Session extends BaseModel {
  static override tableName = 'sessions';
  static override idColumn = 'hash';
  hash!: string;
  expiresAt!: Date;
}
