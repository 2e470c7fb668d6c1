import type { Prepared } from '../../engine/index.js';

/**
 * Remembers what was made of a thing, so that comparing every rule with every other makes it once. What hangs on lists
 * is made anew where they are others.
 * @param part what of a state it hangs on; all of its lists where that is not told
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
