import type { Role } from '../people/role.js';
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
  createdAt!: Date;
}

/** A key that opens the service for programs in a person's name. Only its hash is kept. */
export class Token extends BaseModel {
  static override tableName = 'tokens';
  id!: number;
  personId!: number;
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
  personId!: number;
  expiresAt!: Date;
}
