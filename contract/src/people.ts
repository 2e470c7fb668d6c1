import type { PageQuery } from './page.js';
import type { Role } from './role.js';

export interface PersonBody {
  readonly name: string;
  readonly role: Role;
  readonly disabled: boolean;
  /** Whether they may see addresses that policies replace by pseudonyms. */
  readonly seesAddresses: boolean;
  /** Whether they can sign in with a password. */
  readonly password: boolean;
  readonly createdAt: string;
}

export interface TokenBody {
  readonly token: number;
  /** `gateway`: may make live decisions and nothing else; it belongs to nobody and has no role. */
  readonly kind: 'person' | 'gateway';
  readonly name: string;
  readonly person: string | null;
  readonly role: Role | null;
  readonly expiresAt: string | null;
  readonly usedAt: string | null;
  readonly createdAt: string;
  /** The key itself; shown once, when it is made. */
  readonly secret?: string;
}

export interface SessionsPage {
  readonly sessions: readonly SessionBody[];
  readonly next: number | null;
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

/** Who signs in: by name and password, or with a key alone. */
export interface SignIn {
  readonly name?: string;
  readonly password?: string;
  readonly key?: string;
}

export interface PeoplePage {
  readonly people: readonly PersonBody[];
  readonly next: string | null;
}

export interface NewPerson {
  readonly name: string;
  readonly role: Role;
  readonly password?: string;
}

export interface PersonChange {
  readonly password?: string;
  readonly role?: Role;
  readonly disabled?: boolean;
  readonly seesAddresses?: boolean;
}

/** One's own password. */
export interface PasswordChange {
  /** The one until now; not needed where there is none. */
  readonly old?: string;
  readonly password: string;
}

export interface TokensQuery extends PageQuery {
  /** Those of everyone; for administrators. */
  readonly all?: boolean;
}

export interface TokensPage {
  readonly tokens: readonly TokenBody[];
  readonly next: number | null;
}

export interface NewToken {
  readonly name: string;
  readonly kind?: 'person' | 'gateway';
  /** What it may do at most; without it, all that its owner may. */
  readonly role?: Role;
  readonly expires?: string;
}
