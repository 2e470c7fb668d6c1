import { BoundedMap } from '@jade-fence/core/memo';
import type { Answer, Resolutions } from '@jade-fence/core/resolution';

/** More answers than this are not kept beside those of the rules; hosts of those that are let go are looked up again. */
const MOST_KEPT = 200_000;

interface Kept {
  readonly answer: Answer;
  /** The load that it came with, or that was the last of its host when it came. */
  readonly load: number;
}

/**
 * Answers that came since the rules were made that requests are decided by. They stay when the rules change, until those
 * are made of a state that has them: what counts then is the last load, as everywhere.
 */
export class LiveAnswers {
  readonly #most: number;
  readonly #kept: BoundedMap<string, Kept>;
  #ofRules: ReadonlyMap<string, Answer> = new Map();
  #state = 0;
  #later = new Map<string, Answer>();

  constructor(most = MOST_KEPT) {
    this.#most = most;
    this.#kept = new BoundedMap(most);
  }

  /** The resolutions of new rules, with what came after the state that these were made of. */
  of({ table, later, state = 0 }: Resolutions): Resolutions {
    this.#state = state;
    for (const [host, { load }] of this.#kept) if (load <= state) this.#kept.delete(host);
    this.#ofRules = later;
    this.#later = new Map();
    this.#fill();
    return { table, later: this.#later, state };
  }

  /** Decides by these answers too from now on. `load` is theirs; undefined: they are not stored yet, and the newest. */
  add(answers: readonly Answer[], load: number | undefined): void {
    if (load !== undefined && load <= this.#state) return;
    for (const answer of answers) {
      const before = this.#kept.get(answer.host)?.load ?? 0;
      if (load !== undefined && load < before) continue;
      this.#kept.set(answer.host, { answer, load: load ?? before });
      this.#later.set(answer.host, answer);
    }
    // Those that were let go do not pile up beside the rules.
    if (this.#later.size > this.#ofRules.size + 2 * this.#most) this.#fill();
  }

  #fill(): void {
    this.#later.clear();
    for (const [host, answer] of this.#ofRules) this.#later.set(host, answer);
    for (const [host, { answer }] of this.#kept) this.#later.set(host, answer);
  }
}
