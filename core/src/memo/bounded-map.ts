/**
 * A map that empties itself when a new key would make it larger than `most` entries, so that its memory is bounded. For
 * what can be computed again.
 */
export class BoundedMap<K, V> extends Map<K, V> {
  readonly #most: number;

  constructor(most: number) {
    super();
    this.#most = most;
  }

  override set(key: K, value: V): this {
    if (this.size >= this.#most && !this.has(key)) this.clear();
    return super.set(key, value);
  }

  /** The value of the key; made and kept where it is not there. A value must not be undefined. */
  of(key: K, make: () => V): V {
    let value = this.get(key);
    if (value === undefined) {
      value = make();
      this.set(key, value);
    }
    return value;
  }
}
