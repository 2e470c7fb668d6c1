import type { Outcome } from '../../engine/index.js';

/** Outcomes that a judge made since it last reported, in the order of their numbers. Plain data. */
export interface NewOutcomes {
  /** The number of the first of them at the judge. */
  readonly from: number;
  readonly outcomes: readonly Outcome[];
}

interface OfJudge {
  /** By number; undefined once it has a number here. */
  readonly outcomes: (Outcome | undefined)[];
  /** By number at the judge, the number here. */
  readonly numbers: number[];
}

/**
 * The outcomes of one policy at all judges of a replay: a judge reports each outcome once, and counts it by its number
 * after that. They are numbered here when they are first counted, so that numbers do not depend on which judge was faster.
 */
export class KnownOutcomes {
  readonly #judges: OfJudge[] = [];

  /** Takes the new outcomes of a judge. Throws when some in front of them are missing. */
  learn(judge: number, { from, outcomes }: NewOutcomes): void {
    const known = this.#of(judge).outcomes;
    if (known.length !== from) throw new Error(`judge ${judge} reports outcome ${from} where ${known.length} is next`);
    for (const outcome of outcomes) known.push(outcome);
  }

  /** The number here of an outcome of a judge; `adopt` gives one on first use. */
  number(judge: number, number: number, adopt: (outcome: Outcome) => number): number {
    const { outcomes, numbers } = this.#of(judge);
    const outcome = outcomes[number];
    if (outcome !== undefined) {
      numbers[number] = adopt(outcome);
      outcomes[number] = undefined;
    }
    const own = numbers[number];
    if (own === undefined) throw new Error(`judge ${judge} counts outcome ${number}, which it has not reported`);
    return own;
  }

  #of(judge: number): OfJudge {
    this.#judges[judge] ??= { outcomes: [], numbers: [] };
    return this.#judges[judge];
  }
}
