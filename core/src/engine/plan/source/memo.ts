import { tupleKey } from '../../../column/index.js';
import { BoundedMap } from '../../../memo/index.js';

type Texts = readonly (string | undefined)[];

/** Remembers the classes of texts across chunks. Empties itself when full, so that its memory is bounded. */
export class ClassMemo {
  readonly #known: BoundedMap<string, number>;
  static readonly #LONGEST = 300;

  /** `most`: how many texts are remembered. */
  constructor(most = 500_000) {
    this.#known = new BoundedMap(most);
  }

  /** The class of texts of which some may be absent; always as many. */
  get(texts: Texts, make: () => number): number {
    const key = tupleKey(texts);
    return key.length > ClassMemo.#LONGEST ? make() : this.#known.of(key, make);
  }
}
