import { tupleKey } from '../../../column/index.js';

type Texts = readonly (string | undefined)[];

/** Remembers the classes of texts across chunks. Empties itself when full, so that its memory is bounded. */
export class ClassMemo {
  readonly #known = new Map<string, number>();
  readonly #most: number;
  static readonly #LONGEST = 300;

  /** `most`: how many texts are remembered. */
  constructor(most = 500_000) {
    this.#most = most;
  }

  /** The class of texts of which some may be absent; always as many. */
  get(texts: Texts, make: () => number): number {
    const key = tupleKey(texts);
    if (key.length > ClassMemo.#LONGEST) return make();
    let number = this.#known.get(key);
    if (number === undefined) {
      if (this.#known.size >= this.#most) this.#known.clear();
      number = make();
      this.#known.set(key, number);
    }
    return number;
  }
}
