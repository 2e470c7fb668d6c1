import type { Address } from '../../address/index.js';
import type { Limit } from '../../limit/index.js';
import { isWaivable } from '../../policy/index.js';
import { type ClientTrust, findClient, type Request } from '../../request/index.js';
import type { Decision } from '../decision.js';
import { type LimitKey, limitKey } from '../limit-key.js';
import { countriesOf, destinationsOf } from '../semantics/destinations.js';
import { pathsOf } from '../subject.js';
import { type Outcome, Outcomes, ruleOutcomes } from './outcome.js';
import { type AskLimit, OutcomeTable, PENDING, type Unresolved } from './outcome-table.js';
import { countryIn } from './partition/partition.js';
import type { Plan } from './plan.js';
import { RequestClassifier } from './request-classifier.js';
import { Resolver } from './resolver.js';
import { RowClassifier } from './row-classifier.js';
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
 * Judges requests by one plan. Keeps the classes of values and the outcome of each class of requests, so that what
 * has been seen before costs a few look-ups.
 */
export class Judge {
  readonly plan: Plan;
  readonly #outcomes: Outcomes;
  readonly #sources: readonly Source[];
  readonly #resolver: Resolver;
  #single: RequestClassifier;
  #ofSingles: OutcomeTable;
  readonly #many: RowClassifier;
  readonly #ofMany: OutcomeTable;
  readonly #trust: ClientTrust;

  constructor(plan: Plan, options: JudgeOptions = {}) {
    this.plan = plan;
    this.#trust = plan.prepared.trust.get(plan.policy.name) as ClientTrust;
    this.#outcomes = new Outcomes(plan.policy);
    this.#sources = plan.sources.map((source) => source.start(plan.clauseWords));
    const tables = this.#sources.map(({ classes }) => classes);
    this.#resolver = new Resolver(plan, tables, this.#outcomes, options.firstMatchOnly ?? false);
    this.#single = new RequestClassifier(this.#sources, plan.clauseWords, plan.clauses.count);
    this.#ofSingles = new OutcomeTable(plan, this.#single, this.#resolver);
    this.#many = new RowClassifier(this.#sources, plan.clauseWords, plan.clauses.count, options.mostWords);
    this.#ofMany = new OutcomeTable(plan, this.#many, this.#resolver);
  }

  get outcomes(): readonly Outcome[] {
    return this.#outcomes.all;
  }

  /**
   * Judges the rows of a block: the number of each row's outcome, or `PENDING` where limits have to be asked, which
   * `mayPend` says that some may. `classes` numbers rows that match the same rules.
   */
  rows(block: Block): { readonly outcomes: Int32Array; readonly classes: Uint32Array; readonly mayPend: boolean } {
    const classes = this.#many.rows(block);
    const outcomes = this.#ofMany.outcomes(classes, block.rows.length, block.kernel);
    return { outcomes, classes, mayPend: this.#ofMany.mayPend };
  }

  /** Judges one request. `ask` is called for every limit on its way. */
  one(request: Request, ask: AskLimit): Outcome {
    const number = this.#classOf(request);
    const resolved = this.#ofSingles.outcome(number);
    const outcome =
      resolved === PENDING ? this.resolve(this.#ofSingles.unresolved(number), this.#keysOf(request), ask) : resolved;
    return this.#outcomes.all[request.met.length === 0 ? outcome : this.metOutcome(outcome, request.met)] as Outcome;
  }

  /** The class of a request whose outcome is `PENDING`, to be resolved with `resolve`. */
  unresolved(request: Request): Unresolved {
    const number = this.#classOf(request);
    this.#ofSingles.outcome(number);
    return this.#ofSingles.unresolved(number);
  }

  /** The outcome of what waits, asking the limits on its way; `keyOf` gives the key for a rule's limit. */
  resolve(unresolved: Unresolved, keyOf: (rule: number, limit: Limit) => LimitKey, ask: AskLimit): number {
    return this.#ofSingles.ask(unresolved, keyOf, ask);
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
      this.#single = new RequestClassifier(this.#sources, this.plan.clauseWords, this.plan.clauses.count);
      this.#ofSingles = new OutcomeTable(this.plan, this.#single, this.#resolver);
    }
    return this.#single.one(request, findClient(request, this.#trust));
  }

  #keysOf(request: Request): (rule: number, limit: Limit) => LimitKey {
    const { policy, prepared } = this.plan;
    const client = findClient(request, this.#trust);
    const countryOf = (address: Address) => countryIn(prepared.shared().partition, address);
    const country = client.address && countryOf(client.address);
    const destinations = destinationsOf(request, policy, prepared.resolutions);
    const keyed = {
      request,
      client,
      origin: country === undefined ? undefined : { country },
      destinations,
      destinationCountries: destinations && countriesOf(destinations, countryOf),
      path: pathsOf(request, policy.paths).path,
    };
    return (_, limit) => limitKey(limit, keyed);
  }
}

/** An outcome as a whole decision. */
export function decisionOf({ policy }: Plan, outcome: Outcome): Decision {
  const { verdict, effect, met, decidedBy, tags, record } = outcome;
  return { policy, verdict, effect, met, decidedBy, tags, record, outcomes: ruleOutcomes(policy, outcome) };
}
