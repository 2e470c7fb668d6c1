import type { Source } from './source/source.js';

/** Takes what all sources say of a request together: requests of one class are alike to every rule. */
export interface Chain {
  /** The classes of the rows; `fill` gives those of one source. Good until the next call. */
  readonly rows: (count: number, fill: (source: Source, into: Int32Array) => void) => Int32Array;
  /** The classes of each source in an example of the class; -1 where the source does not matter. */
  readonly example: (number: number) => number[];
}

/** The class of a source that was not looked at, since no clause that is still possible asks for it. */
export const NOT_ASKED = -1;
