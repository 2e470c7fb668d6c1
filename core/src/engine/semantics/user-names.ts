import { userForm } from '../../list/index.js';
import type { Request } from '../../request/index.js';

/** The names that a test of users or groups sees; none: the request is known to be anonymous. */
export function namesOf(field: 'user' | 'group', { user, groups }: Request): readonly string[] | undefined {
  if (field === 'user') return user === undefined ? undefined : user === '' ? [] : [userForm(user)];
  return groups?.map(userForm) ?? (user === '' ? [] : undefined);
}
