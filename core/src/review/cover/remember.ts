import type { Prepared } from '../../engine/index.js';

/**
 * Keeps derived values, so that comparing every rule with every other computes each once. A value that depends on lists
 * is made anew where they are others.
 * @param part the part of a state that it depends on; all of its lists by default
 */
export function remembered<K extends object, V>(
  make: (key: K, prepared: Prepared) => V,
  part: (prepared: Prepared) => object = ({ lists }) => lists,
): (key: K, prepared: Prepared) => V {
  const known = new WeakMap<K, WeakMap<object, { readonly value: V }>>();
  return (key, prepared) => {
    const own = known.get(key) ?? new WeakMap();
    const found = own.get(part(prepared));
    if (found) return found.value;
    const value = make(key, prepared);
    own.set(part(prepared), { value });
    known.set(key, own);
    return value;
  };
}
