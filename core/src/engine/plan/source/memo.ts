/** Remembers the classes of texts across chunks. Empties itself when full, so that its memory is bounded. */
export class ClassMemo {
  readonly #known = new Map<string, number>();
  static readonly #MOST = 500_000;
  static readonly #LONGEST = 300;

  get(text: string, make: () => number): number {
    if (text.length > ClassMemo.#LONGEST) return make();
    let number = this.#known.get(text);
    if (number === undefined) {
      if (this.#known.size >= ClassMemo.#MOST) this.#known.clear();
      number = make();
      this.#known.set(text, number);
    }
    return number;
  }
}
