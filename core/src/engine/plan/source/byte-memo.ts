import { hashBytes, TextArena, type TextBytes } from '../../../column/index.js';

const MOST_TEXTS = 500_000;
const MOST_BYTES = 2 ** 26;

/**
 * Remembers the classes of texts by their bytes, so that texts of a stored dictionary need not be decoded to be found.
 * Empties itself when full, so that its memory is bounded.
 */
export class ByteMemo {
  #texts = new TextArena();
  #classes: number[] = [];

  /** The class of the text of this number in a dictionary; `make` gives that of a text that is not known. */
  get({ texts, ends }: TextBytes, number: number, make: () => number): number {
    if (this.#texts.count >= MOST_TEXTS || this.#texts.length >= MOST_BYTES) {
      this.#texts = new TextArena();
      this.#classes = [];
    }
    const start = number === 0 ? 0 : (ends[number - 1] as number);
    const end = ends[number] as number;
    const known = this.#texts.number(texts, start, end, hashBytes(texts, start, end));
    this.#classes[known] ??= make();
    return this.#classes[known] as number;
  }
}
