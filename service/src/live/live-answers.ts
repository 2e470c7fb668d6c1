import { BoundedMap } from '@jade-fence/core/memo';
import type { Answer, Resolutions } from '@jade-fence/core/resolution';

/** More answers than this are not kept beside those of the rules; what is let go is asked for again. */
const MOST_KEPT = 200_000;

/** Answers that came since the rules were made that requests are decided by. They stay when the rules change. */
export class LiveAnswers {
  readonly #kept = new BoundedMap<string, Answer>(MOST_KEPT);
  #later = new Map<string, Answer>();

  /** The resolutions of new rules, with what came since they were made. */
  of({ table, later }: Resolutions): Resolutions {
    this.#later = new Map(later);
    for (const answer of this.#kept.values()) this.#add(answer);
    return { table, later: this.#later };
  }

  /** Decides by these answers too from now on. */
  add(answers: readonly Answer[]): void {
    for (const answer of answers) {
      this.#kept.set(answer.host, answer);
      this.#add(answer);
    }
  }

  /** An answer of an earlier time does not count before one of a later. */
  #add(answer: Answer): void {
    const known = this.#later.get(answer.host);
    if (known === undefined || known.seen <= answer.seen) this.#later.set(answer.host, answer);
  }
}
