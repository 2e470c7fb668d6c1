/** Numbers requests by what all sources find of them: requests of one class match the same rules. */
export interface Classifier {
  /** The lowest class that is still known; the classifier has dropped those below. */
  readonly base: number;
  /**
   * For one request of the class, its class in each source; `NOT_ASKED` where the source does not matter. `place` is the
   * place of that request among the rows of the last block.
   */
  readonly example: (number: number, place: number) => readonly number[];
}

/** Stands for the class of a source that no clause depends on any more, so that it was not looked at. */
export const NOT_ASKED = -1;
