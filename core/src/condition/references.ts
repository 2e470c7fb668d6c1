import type { ListSort } from '../list/index.js';
import { type Condition, type ListTerm, type NameTerm, termsOf, valuesOf } from './condition.js';
import type { Field } from './field.js';

/** The kinds of documents that a test can name beside lists. */
export type NamedKind = 'category' | 'application' | 'schedule' | 'tag';

/** A list that a condition names, and the sort that belongs at that place. */
export interface ListUse {
  readonly term: ListTerm;
  readonly sort: ListSort;
}

export interface NameUse {
  readonly term: NameTerm;
  readonly kind: NamedKind;
}

const SORTS: Partial<Record<Field, ListSort>> = {
  client: 'addresses',
  peer: 'addresses',
  destination: 'addresses',
  country: 'countries',
  'destination-country': 'countries',
  host: 'domains',
  url: 'urls',
  user: 'users',
  group: 'users',
  agent: 'agents',
};

const KINDS: Partial<Record<Field, NamedKind>> = {
  category: 'category',
  application: 'application',
  time: 'schedule',
  tag: 'tag',
};

/** Every naming of a list in the conditions. */
export function listsNamed(conditions: readonly Condition[]): ListUse[] {
  return conditions.flat().flatMap((test) => {
    const sort = SORTS[test.field];
    const terms = valuesOf(test).flatMap((value) => termsOf(value));
    return terms.flatMap((term) => (term.type === 'list' && sort ? [{ term, sort }] : []));
  });
}

/** Every naming of a category, application, schedule or tag in the conditions. */
export function namesUsed(conditions: readonly Condition[]): NameUse[] {
  return conditions.flat().flatMap((test) => {
    const kind = KINDS[test.field];
    const terms = valuesOf(test).flatMap((value) => termsOf(value));
    return terms.flatMap((term) => (term.type === 'name' && kind ? [{ term, kind }] : []));
  });
}
