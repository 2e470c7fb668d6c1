import type { Condition, Test } from '../condition/index.js';
import type { Category } from './category.js';

/** The conditions of a category, of which any may hold. */
export function categoryConditions({ domains, urls }: Category): Condition[] {
  const host: Test[] = domains.length > 0 ? [{ field: 'host', name: undefined, values: domains }] : [];
  const url: Test[] = urls.length > 0 ? [{ field: 'url', name: undefined, values: urls }] : [];
  return [...host, ...url].map((test) => [test]);
}
