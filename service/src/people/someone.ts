import type { Person } from '../model/person.js';
import { lesserRole, type Role } from './role.js';

/** Who calls, and what they may do with what they came with. */
export interface Someone {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
}

/** A person that came with something that may do so much at most. */
export const someoneOf = ({ id, name, role }: Person, most: Role = role): Someone => ({
  id,
  name,
  role: lesserRole(role, most),
});
