import { compilePlan, Judge, type JudgeOptions, type Outcome, type Prepared } from '../engine/index.js';
import { type Policy, VERDICTS } from '../policy/index.js';
import { formatOutcome } from './outcome-text.js';
import type { NewOutcomes } from './tally/known-outcomes.js';

/** One policy in a run: what judges by it, and how its outcomes are kept. */
export class PolicyRun {
  readonly policy: Policy;
  readonly judge: Judge;
  readonly #firstSlot: number;
  readonly #texts: string[] = [];
  #answers = new Uint8Array(256);
  #answered = 0;
  #reported = 0;

  constructor(policy: Policy, firstSlot: number, prepared: Prepared, options: JudgeOptions) {
    this.policy = policy;
    this.judge = new Judge(compilePlan(policy, prepared), options);
    this.#firstSlot = firstSlot;
  }

  /** The outcome as a replay keeps it. */
  text(outcome: number): string {
    this.#texts[outcome] ??= formatOutcome(this.#outcome(outcome), this.#firstSlot);
    return this.#texts[outcome];
  }

  /** For each outcome so far the place of its verdict among the answers; there may be room for more behind them. */
  answers(): Uint8Array {
    const { outcomes } = this.judge;
    if (outcomes.length > this.#answers.length) {
      const larger = new Uint8Array(outcomes.length * 2);
      larger.set(this.#answers);
      this.#answers = larger;
    }
    for (; this.#answered < outcomes.length; this.#answered++)
      this.#answers[this.#answered] = VERDICTS.indexOf(this.#outcome(this.#answered).verdict);
    return this.#answers;
  }

  /** The outcomes that were made since it was last asked. */
  newOutcomes(): NewOutcomes {
    const from = this.#reported;
    const outcomes = this.judge.outcomes.slice(from);
    this.#reported += outcomes.length;
    return { from, outcomes };
  }

  #outcome(number: number): Outcome {
    return this.judge.outcomes[number] as Outcome;
  }
}
