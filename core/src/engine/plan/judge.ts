import type { Limit } from '../../limit/index.js';
import { isWaivable } from '../../policy/index.js';
import { type ClientTrust, findClient, type Request } from '../../request/index.js';
import type { Decision } from '../decision.js';
import { type LimitKey, limitKey } from '../limit-key.js';
import { pathsOf } from '../subject.js';
import { GroupChain } from './group-chain.js';
import { type Outcome, Outcomes, ruleOutcomes } from './outcome.js';
import { countryIn } from './partition/partition.js';
import type { Plan } from './plan.js';
import { Settler } from './settle.js';
import { type AskLimit, PENDING, Settlements, type Waiting } from './settlements.js';
import { SingleChain } from './single-chain.js';
import type { Block } from './source/block.js';
import type { Source } from './source/source.js';

export interface JudgeOptions {
  /**
   * Leaves out what rules behind the deciding one would have done, and what none could see: enough to act on a request,
   * and not to tune rules by. Default false.
   */
  readonly firstMatchOnly?: boolean;
  /** With more words of memory for the classes of rows, these are forgotten before the next block. Default 32 Mi. */
  readonly mostWords?: number;
}

/**
 * Judges requests by one plan. Remembers the classes of values, and what became of each class of requests, so that what
 * has been seen before costs a few look-ups.
 */
export class Judge {
  readonly plan: Plan;
  readonly #outcomes: Outcomes;
  readonly #sources: readonly Source[];
  readonly #settler: Settler;
  #single: SingleChain;
  #ofSingles: Settlements;
  readonly #many: GroupChain;
  readonly #ofMany: Settlements;
  readonly #trust: ClientTrust;

  constructor(plan: Plan, options: JudgeOptions = {}) {
    this.plan = plan;
    this.#trust = plan.prepared.trust.get(plan.policy.name) as ClientTrust;
    this.#outcomes = new Outcomes(plan.policy);
    this.#sources = plan.sources.map((source) => source.start(plan.clauseWords));
    const tables = this.#sources.map(({ classes }) => classes);
    this.#settler = new Settler(plan, tables, this.#outcomes, options.firstMatchOnly ?? false);
    this.#single = new SingleChain(this.#sources, plan.clauseWords, plan.clauses.count);
    this.#ofSingles = new Settlements(plan, this.#single, this.#settler);
    this.#many = new GroupChain(this.#sources, plan.clauseWords, plan.clauses.count, options.mostWords);
    this.#ofMany = new Settlements(plan, this.#many, this.#settler);
  }

  get outcomes(): readonly Outcome[] {
    return this.#outcomes.all;
  }

  /**
   * Judges the rows of a block: the number of each row's outcome, or `PENDING` where limits have to be asked. `classes`
   * numbers what rows are alike in, to every rule; it holds until the next block.
   */
  rows(block: Block): { readonly outcomes: Int32Array; readonly classes: Uint32Array } {
    const classes = this.#many.rows(block);
    return { outcomes: this.#ofMany.outcomes(classes, block.rows.length), classes };
  }

  /** Judges a request by itself. `ask` is asked for every limit on its way. */
  one(request: Request, ask: AskLimit): Outcome {
    const number = this.#classOf(request);
    const settled = this.#ofSingles.outcome(number);
    const outcome =
      settled === PENDING ? this.settle(this.#ofSingles.waiting(number), this.#keysOf(request), ask) : settled;
    return this.#outcomes.all[request.met.length === 0 ? outcome : this.metOutcome(outcome, request.met)] as Outcome;
  }

  /** What is left to settle of requests that are alike to one whose outcome is `PENDING`. */
  waiting(request: Request): Waiting {
    const number = this.#classOf(request);
    this.#ofSingles.outcome(number);
    return this.#ofSingles.waiting(number);
  }

  /** The outcome of what waits, asking the limits on its way; `keyOf` gives the key for a rule's limit. */
  settle(waiting: Waiting, keyOf: (rule: number, limit: Limit) => LimitKey, ask: AskLimit): number {
    return this.#ofSingles.ask(waiting, keyOf, ask);
  }

  /** The number here of an outcome of another judge by the same plan. */
  adopt(outcome: Outcome): number {
    return this.#outcomes.adopt(outcome);
  }

  /** The outcome for a client that has met what rules ask of it, each as `policy/rule`. */
  metOutcome(outcome: number, met: readonly string[]): number {
    const { verdict, decidedBy } = this.#outcomes.all[outcome] as Outcome;
    const { policy } = this.plan;
    const name = `${policy.name}/${policy.rules[decidedBy]?.name ?? 'default'}`;
    return isWaivable(verdict) && met.includes(name) ? this.#outcomes.metNumber(outcome) : outcome;
  }

  #classOf(request: Request): number {
    if (this.#single.full) {
      this.#single = new SingleChain(this.#sources, this.plan.clauseWords, this.plan.clauses.count);
      this.#ofSingles = new Settlements(this.plan, this.#single, this.#settler);
    }
    return this.#single.one(request, findClient(request, this.#trust));
  }

  #keysOf(request: Request): (rule: number, limit: Limit) => LimitKey {
    const { policy, prepared } = this.plan;
    const client = findClient(request, this.#trust);
    const country = client.address && countryIn(prepared.shared().partition, client.address);
    const origin = country === undefined ? undefined : { country };
    const keyed = { request, client, origin, path: pathsOf(request, policy.paths).path };
    return (_, limit) => limitKey(limit, keyed);
  }
}

/** An outcome as a whole decision. */
export function decisionOf({ policy }: Plan, outcome: Outcome): Decision {
  const { verdict, effect, met, decidedBy, tags, record } = outcome;
  return { policy, verdict, effect, met, decidedBy, tags, record, outcomes: ruleOutcomes(policy, outcome) };
}
