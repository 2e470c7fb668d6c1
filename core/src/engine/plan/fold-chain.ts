import type { Chain } from './chain.js';
import { Fold } from './fold.js';
import type { Source } from './source/source.js';

/** Folds the classes of all sources into one class, source by source. The fastest where there are few clauses. */
export class FoldChain implements Chain {
  readonly #sources: readonly Source[];
  readonly #folds: readonly Fold[];
  /** Columns that are used again for the next block. */
  #columns: readonly Int32Array[] = [];

  constructor(sources: readonly Source[], words: number) {
    const folds: Fold[] = [];
    sources.slice(1).forEach(({ classes }, at) => {
      folds.push(new Fold(folds[at - 1] ?? (sources[0] as Source).classes, classes, words));
    });
    this.#sources = sources;
    this.#folds = folds;
  }

  /** The class of all that the sources say of the rows; one class for all where there are no sources. */
  rows(count: number, fill: (source: Source, into: Int32Array) => void): Int32Array {
    if (this.#columns.length === 0 || (this.#columns[0] as Int32Array).length < count)
      this.#columns = [0, 1, 2].map(() => new Int32Array(count));
    let [folded, next, other] = this.#columns as [Int32Array, Int32Array, Int32Array];
    const [first, ...others] = this.#sources;
    if (first) fill(first, folded);
    else folded.fill(0);
    others.forEach((source, at) => {
      fill(source, next);
      (this.#folds[at] as Fold).rows(folded, next, count, other);
      [folded, other] = [other, folded];
    });
    return folded;
  }

  /** The classes of each source in an example of the class. */
  example(number: number): number[] {
    if (this.#sources.length === 0) return [];
    const classes: number[] = [];
    let folded = number;
    for (let at = this.#folds.length - 1; at >= 0; at--) {
      const [left, right] = (this.#folds[at] as Fold).example(folded);
      classes.unshift(right);
      folded = left;
    }
    return [folded, ...classes];
  }
}
