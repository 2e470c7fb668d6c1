export type Counts<K> = Map<K, number>;

/** A value that was seen, or null for one that was not. */
export type Key = string | null;

/** Counts some more. */
export function count<K>(counts: Counts<K>, key: K, more = 1): void {
  counts.set(key, (counts.get(key) ?? 0) + more);
}

/** The counts, the highest first; those as high in the order of their keys. */
export function mostFirst<K extends string | number>(counts: Counts<K>): [K, number][] {
  return [...counts].sort(([a, x], [b, y]) => y - x || compareKeys(String(a), String(b)));
}

/** Orders keys as texts, what was not seen last. */
export function compareKeys(a: Key, b: Key): number {
  return a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -1 : 1;
}
