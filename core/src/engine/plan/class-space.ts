/** Numbered classes, each with the clauses that hold, then those that may, and a mark of what is not seen. */
export interface ClassSpace {
  readonly count: number;
  /** Two vectors a class. Replaced when classes are added, so it is not to be kept. */
  readonly combined: Uint32Array;
  /** How many words lie between the vectors of a class and those of the next. */
  readonly stride: number;
  /** 0 when every field that the remaining clauses test is seen. */
  readonly mark: (number: number) => number;
}
