import type { ListSort } from '@jade-fence/core/list';
import { count } from '../marks/count.js';

const ONE: Readonly<Record<ListSort, string>> = {
  addresses: 'address',
  countries: 'country',
  domains: 'domain',
  urls: 'URL',
  users: 'user',
  agents: 'agent',
};

/** «1 domain», «3 addresses». */
export const entriesText = (many: number, of: ListSort): string => `${count(many)} ${many === 1 ? ONE[of] : of}`;
