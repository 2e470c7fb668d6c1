import { lesserRole, type Role } from '@jade-fence/contract';
import type { Person } from '../model/person.js';

/** Who calls, and what they may do with what they came with. */
export interface Someone {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** Whether they may see addresses that policies replace by pseudonyms. */
  readonly seesAddresses: boolean;
  /** What they called with, where it was a token and no session. */
  readonly token?: { readonly id: number; readonly expiresAt: Date | null };
}

/** A person that came with something that may do so much at most. */
export const someoneOf = ({ id, name, role, seesAddresses }: Person, most: Role = role): Someone => ({
  id,
  name,
  role: lesserRole(role, most),
  // Who came with less than their role came with less than their rights.
  seesAddresses: seesAddresses && lesserRole(role, most) === role,
});
