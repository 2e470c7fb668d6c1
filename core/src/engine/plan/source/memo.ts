/** Remembers the classes of texts across chunks. Empties itself when full, so that its memory is bounded. */
export class ClassMemo {
  readonly #known = new Map<string, number>();
  readonly #most: number;
  static readonly #LONGEST = 300;

  /** `most`: how many texts are remembered. */
  constructor(most = 500_000) {
    this.#most = most;
  }

  get(text: string, make: () => number): number {
    if (text.length > ClassMemo.#LONGEST) return make();
    let number = this.#known.get(text);
    if (number === undefined) {
      if (this.#known.size >= this.#most) this.#known.clear();
      number = make();
      this.#known.set(text, number);
    }
    return number;
  }
}
