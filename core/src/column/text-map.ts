/**
 * A map by texts of any length. Engines hash a text that is longer than some 16,000 characters by its length alone, so
 * that a few hundred of one length make a plain map slow; here a long text is looked up piece by piece.
 */
export class TextMap<V> {
  readonly #short = new Map<string, V>();
  #long: Map<string, TextMap<V>> | undefined;
  #size = 0;

  get size(): number {
    return this.#size;
  }

  get(text: string): V | undefined {
    if (text.length <= PIECE) return this.#short.get(text);
    return this.#long?.get(text.slice(0, PIECE))?.get(text.slice(PIECE));
  }

  set(text: string, value: V): void {
    if (text.length > PIECE) this.#setLong(text, value);
    else this.#short.set(text, value);
    this.#size = this.#short.size + this.#longSize;
  }

  delete(text: string): void {
    if (text.length <= PIECE) this.#short.delete(text);
    else {
      const start = text.slice(0, PIECE);
      const rest = this.#long?.get(start);
      const before = rest?.size ?? 0;
      rest?.delete(text.slice(PIECE));
      this.#longSize -= before - (rest?.size ?? 0);
      if (rest?.size === 0) this.#long?.delete(start);
    }
    this.#size = this.#short.size + this.#longSize;
  }

  *entries(before = ''): Generator<readonly [string, V]> {
    for (const [text, value] of this.#short) yield [before + text, value];
    for (const [start, rest] of this.#long ?? []) yield* rest.entries(before + start);
  }

  *values(): Generator<V> {
    for (const [, value] of this.entries()) yield value;
  }

  #longSize = 0;

  #setLong(text: string, value: V): void {
    this.#long ??= new Map();
    const start = text.slice(0, PIECE);
    const rest = this.#long.get(start) ?? new TextMap<V>();
    this.#long.set(start, rest);
    const before = rest.size;
    rest.set(text.slice(PIECE), value);
    this.#longSize += rest.size - before;
  }
}

const PIECE = 8192;
