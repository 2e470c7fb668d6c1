import { tupleKey } from '../../column/index.js';
import type { Kernel } from '../../kernel/index.js';
import type { Limit } from '../../limit/index.js';
import type { Rule } from '../../policy/index.js';
import type { LimitKey } from '../limit-key.js';
import type { Classifier } from './classifier.js';
import type { Plan } from './plan.js';
import type { LimitAnswer, Resolver, Step } from './resolver.js';

/** Counts a request under the key of a rule's limit, and returns whether the limit is exceeded. */
export type AskLimit = (rule: number, limit: Limit, key: Extract<LimitKey, { readonly key: string }>) => boolean;

/** A class of requests on the way to its outcome: the outcome, or the limit to ask next, and a branch for each answer. */
export interface Unresolved {
  readonly step: Step;
  readonly answers: readonly LimitAnswer[];
  readonly classes: readonly number[];
  readonly next: Map<string, Unresolved>;
}

/** Stands for the outcome of requests that depend on limits, which are resolved later, in event time. */
export const PENDING = -1;
/** As the kernel's `outcomesOf` has it. */
const UNKNOWN = -2;

/** The outcome of each class of a classifier: resolved when the class first occurs, and kept. */
export class OutcomeTable {
  readonly #plan: Plan;
  readonly #classifier: Classifier;
  readonly #resolver: Resolver;
  #resolved = new Int32Array(1024).fill(UNKNOWN);
  /** The classes whose outcome depends on limits. */
  readonly #pending = new Map<number, Unresolved>();
  /** The first class in `#resolved`. */
  #base = 0;

  constructor(plan: Plan, classifier: Classifier, resolver: Resolver) {
    this.#plan = plan;
    this.#classifier = classifier;
    this.#resolver = resolver;
  }

  /** Whether the outcome of any class is `PENDING`. */
  get mayPend(): boolean {
    return this.#pending.size > 0;
  }

  /** The outcome of the class, or `PENDING`. */
  outcome(number: number): number {
    this.#forget();
    const at = number - this.#base;
    const resolved = at < this.#resolved.length ? (this.#resolved[at] as number) : UNKNOWN;
    return resolved === UNKNOWN ? this.#resolve(number, 0) : resolved;
  }

  /** The outcomes of rows of these classes. */
  outcomes(numbers: Uint32Array, count: number, kernel: Kernel): Int32Array {
    this.#forget();
    kernel.reset();
    const [classes, into] = [kernel.put(numbers.subarray(0, count)), kernel.take(count * 4)];
    let row = 0;
    while (row < count) {
      const known = this.#resolved.length;
      const resolved = kernel.put(this.#resolved);
      const table = kernel.ints(resolved, known);
      // Until the table has grown, and is put there anew.
      while (row < count && this.#resolved.length === known) {
        row = kernel.calls.outcomesOf(classes, this.#base, resolved, known, row, count, into);
        if (row === count) break;
        const number = numbers[row] as number;
        const outcome = this.#resolve(number, row);
        if (number - this.#base < known) table[number - this.#base] = outcome;
      }
    }
    return kernel.ints(into, count).slice();
  }

  /** Drops the classes that the classifier has dropped. */
  #forget(): void {
    if (this.#base === this.#classifier.base) return;
    this.#base = this.#classifier.base;
    this.#resolved = new Int32Array(1024).fill(UNKNOWN);
    this.#pending.clear();
  }

  /** The state of a class whose outcome is `PENDING`. */
  unresolved(number: number): Unresolved {
    return this.#pending.get(number) as Unresolved;
  }

  /** The outcome of what waits, asking the limits on its way; `keyOf` gives the key for a rule's limit. */
  ask(unresolved: Unresolved, keyOf: (rule: number, limit: Limit) => LimitKey, ask: AskLimit): number {
    let node = unresolved;
    while ('ask' in node.step) {
      const index = node.step.ask;
      const limit = (this.#plan.policy.rules[index] as Rule).limit as Limit;
      const key = keyOf(index, limit);
      node = this.#after(node, 'unseen' in key ? key.unseen : ask(index, limit, key));
    }
    return node.step.outcome;
  }

  #after(node: Unresolved, answer: LimitAnswer): Unresolved {
    const key = typeof answer === 'boolean' ? String(answer) : tupleKey(answer);
    let next = node.next.get(key);
    if (next === undefined) {
      const answers = [...node.answers, answer];
      next = { step: this.#resolver.resolve(node.classes, answers), answers, classes: node.classes, next: new Map() };
      node.next.set(key, next);
    }
    return next;
  }

  #resolve(number: number, place: number): number {
    const classes = this.#classifier.example(number, place);
    const step = this.#resolver.resolve(classes, []);
    if ('ask' in step) this.#pending.set(number, { step, answers: [], classes, next: new Map() });
    const at = number - this.#base;
    if (at >= this.#resolved.length) {
      const resolved = new Int32Array(Math.max(this.#resolved.length * 2, at + 1)).fill(UNKNOWN);
      resolved.set(this.#resolved);
      this.#resolved = resolved;
    }
    const outcome = 'ask' in step ? PENDING : step.outcome;
    this.#resolved[at] = outcome;
    return outcome;
  }
}
