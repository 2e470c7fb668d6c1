import type { Filter } from '../policy/place.js';

/** What is in front of a value, so that both are a phrase. */
export const FILTER_WORDS: Readonly<Record<Filter, string>> = {
  client: 'from',
  path: 'for',
  method: 'by',
  status: 'answered',
  category: 'in category',
  application: 'of application',
  destination: 'to address',
};
