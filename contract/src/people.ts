import type { Role } from './role.js';

export interface PersonBody {
  readonly name: string;
  readonly role: Role;
  readonly disabled: boolean;
  /** Whether they may ask about addresses where policies tell these by pseudonyms. */
  readonly seesAddresses: boolean;
  /** Whether they can sign in with a password. */
  readonly password: boolean;
  readonly createdAt: string;
}

export interface TokenBody {
  readonly token: number;
  /** `gateway`: it asks for live decisions and may do nothing else; it belongs to nobody and has no role. */
  readonly kind: 'person' | 'gateway';
  readonly name: string;
  readonly person: string | null;
  readonly role: Role | null;
  readonly expiresAt: string | null;
  readonly usedAt: string | null;
  readonly createdAt: string;
  /** The key itself; told once, when it is made. */
  readonly secret?: string;
}

export interface SessionsBody {
  readonly sessions: readonly SessionBody[];
}

/** A browser that has signed in. */
export interface SessionBody {
  readonly session: number;
  /** The address that it signed in from, and the browser's name. */
  readonly from: string;
  readonly agent: string;
  readonly openedAt: string;
  readonly usedAt: string;
  readonly expiresAt: string;
}

/** Who calls. */
export interface MeBody {
  readonly name: string;
  readonly role: Role;
}
