import { mayAct, type Role } from '@jade-fence/contract';
import { useQuery } from '@tanstack/react-query';
import { call } from './call.js';

/** Who is signed in. */
export function useMe() {
  return useQuery({ queryKey: ['me'], queryFn: () => call('GET /me') });
}

/** Whether who is signed in may do what needs the role. */
export function useMay(needed: Role): boolean {
  return mayAct(useMe().data?.role ?? 'viewer', needed);
}
