import type { Limit } from '../../limit/index.js';
import type { Rule } from '../../policy/index.js';
import { isWaivable } from '../../policy/index.js';
import type { Decision } from '../decision.js';
import { type LimitKey, limitKey } from '../limit-key.js';
import type { Subject } from '../subject.js';
import { WordTable } from './intern.js';
import { type Outcome, Outcomes, ruleOutcomes } from './outcome.js';
import type { Plan } from './plan.js';
import { type LimitAnswer, Settler, type Step } from './settle.js';
import type { Block } from './source/block.js';
import type { Source } from './source/source.js';
import { mix } from './vector.js';

/** What has been settled of a combination of classes: its outcome, or which limit to ask, and what follows. */
interface Node {
  readonly step: Step;
  readonly answers: readonly LimitAnswer[];
  readonly classes: readonly number[];
  readonly next: Map<string, Node>;
}

/** Asks the limit of a rule: counts what is under the key, and tells whether it is over. */
export type AskLimit = (rule: number, limit: Limit, key: Extract<LimitKey, { readonly key: string }>) => boolean;

/** The outcome of rows that hang on limits is settled later, in the order of their times. */
export const PENDING = -1;

/**
 * Judges requests by one plan. Remembers the classes of values and the outcomes of their combinations, so that what
 * has been seen before costs a few look-ups.
 */
export class Judge {
  readonly plan: Plan;
  readonly #sources: readonly Source[];
  readonly #outcomes: Outcomes;
  readonly #settler: Settler;
  readonly #combinations: WordTable;
  /** The combinations that hang on limits. */
  readonly #pending = new Map<number, Node>();
  #known = 0;
  /** The outcome of each combination, or `PENDING`. */
  #settled = new Int32Array(1024);
  readonly #scratch: Int32Array;

  constructor(plan: Plan) {
    this.plan = plan;
    this.#sources = plan.sources.map((source) => source.start(plan.clauseWords));
    this.#outcomes = new Outcomes(plan.policy);
    this.#settler = new Settler(
      plan,
      this.#sources.map(({ classes }) => classes),
      this.#outcomes,
    );
    this.#combinations = new WordTable(plan.sources.length, 1024);
    this.#scratch = new Int32Array(plan.sources.length);
  }

  get outcomes(): readonly Outcome[] {
    return this.#outcomes.all;
  }

  /**
   * Judges the rows of a block: the number of each row's outcome, or `PENDING` where limits have to be asked; then
   * `nodes` holds the row's combination, for `settle`.
   */
  rows(block: Block): { readonly outcomes: Int32Array; readonly nodes: Int32Array } {
    const count = block.rows.length;
    const classes = this.#sources.map((source) => {
      const into = new Int32Array(count);
      source.rows(block, into);
      return into;
    });
    const nodes = this.#combine(classes, count);
    const outcomes = new Int32Array(count);
    for (let at = 0; at < count; at++) outcomes[at] = this.#settled[nodes[at] as number] as number;
    return { outcomes, nodes };
  }

  /** Judges a request by itself. `ask` is asked for every limit on its way. */
  one(subject: Subject, ask: AskLimit): Outcome {
    const scratch = this.#scratch;
    for (let at = 0; at < scratch.length; at++) scratch[at] = (this.#sources[at] as Source).one(subject);
    const combination = this.#numbered(this.#combinations.number(scratch), scratch);
    const settled = this.#settled[combination] as number;
    const outcome = settled === PENDING ? this.settle(combination, this.#keysOf(subject), ask) : settled;
    const { met } = subject.request;
    return this.#outcomes.all[met.length === 0 ? outcome : this.metOutcome(outcome, met)] as Outcome;
  }

  /** The outcome of a pending combination, asking the limits on its way; `keyOf` gives the key for a rule's limit. */
  settle(combination: number, keyOf: (rule: number, limit: Limit) => LimitKey, ask: AskLimit): number {
    let node = this.#pending.get(combination) as Node;
    while ('ask' in node.step) {
      const index = node.step.ask;
      const limit = (this.plan.policy.rules[index] as Rule).limit as Limit;
      const key = keyOf(index, limit);
      const answer = 'unseen' in key ? key.unseen : ask(index, limit, key);
      node = this.#after(node, answer);
    }
    return node.step.outcome;
  }

  /** The outcome for a client that has met what rules ask of it, each as `policy/rule`. */
  metOutcome(outcome: number, met: readonly string[]): number {
    const { verdict, decidedBy } = this.#outcomes.all[outcome] as Outcome;
    const { policy } = this.plan;
    const name = `${policy.name}/${policy.rules[decidedBy]?.name ?? 'default'}`;
    return isWaivable(verdict) && met.includes(name) ? this.#outcomes.metNumber(outcome) : outcome;
  }

  #keysOf(subject: Subject): (rule: number, limit: Limit) => LimitKey {
    return (_, limit) => limitKey(limit, subject);
  }

  #after(node: Node, answer: LimitAnswer): Node {
    const key = typeof answer === 'boolean' ? String(answer) : answer.join();
    let next = node.next.get(key);
    if (next === undefined) {
      const answers = [...node.answers, answer];
      next = { step: this.#settler.settle(node.classes, answers), answers, classes: node.classes, next: new Map() };
      node.next.set(key, next);
    }
    return next;
  }

  /** Numbers the combinations of the rows' classes, source by source hashed, then looked up. */
  #combine(classes: readonly Int32Array[], count: number): Int32Array {
    const hashes = new Int32Array(count);
    for (const column of classes)
      for (let at = 0; at < count; at++) hashes[at] = mix(hashes[at] as number, column[at] as number);
    const nodes = new Int32Array(count);
    const scratch = this.#scratch;
    const width = classes.length;
    let last = -1;
    for (let at = 0; at < count; at++) {
      let same = last >= 0;
      for (let source = 0; source < width; source++) {
        const value = (classes[source] as Int32Array)[at] as number;
        if (value !== scratch[source]) same = false;
        scratch[source] = value;
      }
      if (!same) last = this.#numbered(this.#combinations.numberHashed(scratch, 0, hashes[at] as number), scratch);
      nodes[at] = last;
    }
    return nodes;
  }

  /** Settles a combination when it is new. */
  #numbered(combination: number, classes: Int32Array): number {
    if (combination < this.#known) return combination;
    this.#known = combination + 1;
    const step = this.#settler.settle(classes, []);
    if ('ask' in step) this.#pending.set(combination, { step, answers: [], classes: [...classes], next: new Map() });
    if (this.#known > this.#settled.length) {
      const settled = new Int32Array(this.#settled.length * 2);
      settled.set(this.#settled);
      this.#settled = settled;
    }
    this.#settled[combination] = 'ask' in step ? PENDING : step.outcome;
    return combination;
  }
}

/** An outcome as a whole decision. */
export function decisionOf({ policy }: Plan, outcome: Outcome): Decision {
  const { verdict, effect, met, decidedBy, tags, record } = outcome;
  return { policy, verdict, effect, met, decidedBy, tags, record, outcomes: ruleOutcomes(policy, outcome) };
}
