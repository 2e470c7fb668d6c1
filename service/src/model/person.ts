import type { Role } from '@jade-fence/contract';
import { BaseModel } from './base.js';

/** Someone, or something, that may sign in. */
export class Person extends BaseModel {
  static override tableName = 'people';
  id!: number;
  name!: string;
  role!: Role;
  /** As `hashPassword` gives it; null for who signs in with tokens alone. */
  password!: string | null;
  disabled!: boolean;
  /** Whether they may see addresses that policies replace by pseudonyms. */
  seesAddresses!: boolean;
  createdAt!: Date;
}

/** A key that opens the service for programs in a person's name. Only its hash is kept. */
export class Token extends BaseModel {
  static override tableName = 'tokens';
  id!: number;
  /** Null for a gateway's. */
  personId!: number | null;
  kind!: 'person' | 'gateway';
  name!: string;
  hash!: string;
  /** What it may do at most; never more than its person. */
  role!: Role;
  expiresAt!: Date | null;
  usedAt!: Date | null;
  createdAt!: Date;
}

/** A browser that has signed in. Only the hash of its token is kept. */
export class Session extends BaseModel {
  static override tableName = 'sessions';
  static override idColumn = 'hash';
  hash!: string;
  id!: number;
  personId!: number;
  tokenId!: number | null;
  /** The address that it was opened from, and the browser's name. */
  from!: string;
  agent!: string;
  createdAt!: Date;
  usedAt!: Date;
  expiresAt!: Date;
}
