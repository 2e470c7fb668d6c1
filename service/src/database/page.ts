import type { Model, QueryBuilder } from 'objection';

/** Where a page begins, and how many items it holds at most. */
export interface PageAsked<K extends string | number> {
  /** The key of the last item that was seen. Default: none, so that the page is the first. */
  readonly after?: K | undefined;
  readonly limit: number;
}

/** Some items of a collection, and the key to go on after; null at its end. */
export interface Page<T, K extends string | number> {
  readonly items: readonly T[];
  readonly next: K | null;
}

/** Cuts a page out of what was found behind its beginning: one item more than `limit` shows that it is not the last. */
export function cutPage<T, K extends string | number>(
  found: readonly T[],
  limit: number,
  keyOf: (item: T) => K,
): Page<T, K> {
  const items = found.slice(0, limit);
  const last = items.at(-1);
  return { items, next: found.length > limit && last !== undefined ? keyOf(last) : null };
}

/** A page of items that are here in order, `after` being among them or not. `isBehind` compares a key to `after`. */
export function pageOfItems<T, K extends string | number>(
  all: readonly T[],
  keyOf: (item: T) => K,
  isBehind: (key: K, after: K) => boolean,
  { after, limit }: PageAsked<K>,
): Page<T, K> {
  const behind = after === undefined ? all : all.filter((item) => isBehind(keyOf(item), after));
  return cutPage(behind, limit, keyOf);
}

/** A page of what a query finds, in the order of a column that has each value once. Changes the query. */
export async function pageOf<M extends Model, C extends keyof M & string, K extends M[C] & (string | number)>(
  query: QueryBuilder<M, M[]>,
  column: C,
  order: 'asc' | 'desc',
  { after, limit }: PageAsked<K>,
): Promise<Page<M, K>> {
  query.orderBy(column, order).limit(limit + 1);
  if (after !== undefined) query.where(column, order === 'asc' ? '>' : '<', after);
  return cutPage((await query) as unknown as M[], limit, (row) => row[column] as K);
}
