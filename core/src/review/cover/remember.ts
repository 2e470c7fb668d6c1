import type { Prepared } from '../../engine/index.js';

/**
 * Remembers what was made of a thing, so that comparing every rule with every other makes it once. What hangs on lists
 * is made anew where they are others.
 */
export function remembered<K extends object, V>(
  make: (key: K, prepared: Prepared) => V,
): (key: K, prepared: Prepared) => V {
  const known = new WeakMap<K, { readonly lists: Prepared['lists']; readonly value: V }>();
  return (key, prepared) => {
    const found = known.get(key);
    if (found?.lists === prepared.lists) return found.value;
    const value = make(key, prepared);
    known.set(key, { lists: prepared.lists, value });
    return value;
  };
}
