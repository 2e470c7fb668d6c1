import { tupleKey } from '../../column/index.js';
import type { Limit } from '../../limit/index.js';
import type { Rule } from '../../policy/index.js';
import type { LimitKey } from '../limit-key.js';
import type { Chain } from './chain.js';
import type { Plan } from './plan.js';
import type { LimitAnswer, Settler, Step } from './settle.js';

/** Asks the limit of a rule: counts what is under the key, and tells whether it is over. */
export type AskLimit = (rule: number, limit: Limit, key: Extract<LimitKey, { readonly key: string }>) => boolean;

/** What has been settled of a class of requests: its outcome, or which limit to ask, and what follows. */
export interface Waiting {
  readonly step: Step;
  readonly answers: readonly LimitAnswer[];
  readonly classes: readonly number[];
  readonly next: Map<string, Waiting>;
}

/** The outcome of requests that hang on limits is settled later, in the order of their times. */
export const PENDING = -1;
const UNKNOWN = -2;

/** What became of each class of a chain: settled when it first comes up, and remembered. */
export class Settlements {
  readonly #plan: Plan;
  readonly #chain: Chain;
  readonly #settler: Settler;
  #settled = new Int32Array(1024).fill(UNKNOWN);
  /** The classes that hang on limits. */
  readonly #pending = new Map<number, Waiting>();
  /** The first class in `#settled`. */
  #base = 0;

  constructor(plan: Plan, chain: Chain, settler: Settler) {
    this.#plan = plan;
    this.#chain = chain;
    this.#settler = settler;
  }

  /** The outcome of the class, or `PENDING`. */
  outcome(number: number): number {
    this.#forget();
    const at = number - this.#base;
    const settled = at < this.#settled.length ? (this.#settled[at] as number) : UNKNOWN;
    return settled === UNKNOWN ? this.#settle(number, 0) : settled;
  }

  /** The outcomes of rows of these classes. */
  outcomes(numbers: Uint32Array, count: number): Int32Array {
    this.#forget();
    const base = this.#base;
    const found = new Int32Array(count);
    let settled = this.#settled;
    for (let row = 0; row < count; row++) {
      const number = numbers[row] as number;
      const at = number - base;
      let outcome = at < settled.length ? (settled[at] as number) : UNKNOWN;
      if (outcome === UNKNOWN) {
        outcome = this.#settle(number, row);
        settled = this.#settled;
      }
      found[row] = outcome;
    }
    return found;
  }

  /** What the chain has forgotten is not kept here either. */
  #forget(): void {
    if (this.#base === this.#chain.base) return;
    this.#base = this.#chain.base;
    this.#settled = new Int32Array(1024).fill(UNKNOWN);
    this.#pending.clear();
  }

  /** What is left to settle of a class whose outcome is `PENDING`. */
  waiting(number: number): Waiting {
    return this.#pending.get(number) as Waiting;
  }

  /** The outcome of what waits, asking the limits on its way; `keyOf` gives the key for a rule's limit. */
  ask(waiting: Waiting, keyOf: (rule: number, limit: Limit) => LimitKey, ask: AskLimit): number {
    let node = waiting;
    while ('ask' in node.step) {
      const index = node.step.ask;
      const limit = (this.#plan.policy.rules[index] as Rule).limit as Limit;
      const key = keyOf(index, limit);
      node = this.#after(node, 'unseen' in key ? key.unseen : ask(index, limit, key));
    }
    return node.step.outcome;
  }

  #after(node: Waiting, answer: LimitAnswer): Waiting {
    const key = typeof answer === 'boolean' ? String(answer) : tupleKey(answer);
    let next = node.next.get(key);
    if (next === undefined) {
      const answers = [...node.answers, answer];
      next = { step: this.#settler.settle(node.classes, answers), answers, classes: node.classes, next: new Map() };
      node.next.set(key, next);
    }
    return next;
  }

  #settle(number: number, place: number): number {
    const classes = this.#chain.example(number, place);
    const step = this.#settler.settle(classes, []);
    if ('ask' in step) this.#pending.set(number, { step, answers: [], classes, next: new Map() });
    const at = number - this.#base;
    if (at >= this.#settled.length) {
      const settled = new Int32Array(Math.max(this.#settled.length * 2, at + 1)).fill(UNKNOWN);
      settled.set(this.#settled);
      this.#settled = settled;
    }
    const outcome = 'ask' in step ? PENDING : step.outcome;
    this.#settled[at] = outcome;
    return outcome;
  }
}
