/** What takes all that the sources say of requests together: requests of one class are alike to every rule. */
export interface Chain {
  /** The lowest class that is still known: those below were forgotten. */
  readonly base: number;
  /**
   * The classes of each source in an example of the class, which the row at the place of the last block has;
   * `NOT_ASKED` where the source does not matter.
   */
  readonly example: (number: number, place: number) => readonly number[];
}

/** The class of a source that was not looked at, since no clause that is still possible asks for it. */
export const NOT_ASKED = -1;
