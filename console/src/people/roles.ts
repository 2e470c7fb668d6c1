import { ROLES as ALL } from '@jade-fence/contract';

/** What people may do, each all that the ones before may too. */
export const ROLES = ALL.map((value) => ({ value, label: value }));
