import { useQuery } from '@tanstack/react-query';
import { call } from './call.js';

const ROLES = ['viewer', 'editor', 'publisher', 'administrator'];

interface Me {
  readonly name: string;
  readonly role: string;
}

/** Who is signed in. */
export function useMe() {
  return useQuery({ queryKey: ['me'], queryFn: () => call<Me>('GET', '/api/me') });
}

/** Whether who is signed in may do what needs the role. */
export function useMay(needed: 'editor' | 'publisher' | 'administrator'): boolean {
  const role = useMe().data?.role ?? 'viewer';
  return ROLES.indexOf(role) >= ROLES.indexOf(needed);
}
