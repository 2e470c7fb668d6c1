import { type Address } from '../address/index.js';
import {
  type AskLimit,
  compilePlan,
  createRouter,
  Judge,
  type Outcome,
  type Prepared,
  type Router,
  subjectOf,
} from '../engine/index.js';
import { SlidingWindows } from '../limit/index.js';
import type { FinalAction, Policy, Record, Rule, Verdict } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';

/** What is to be done with a request that is being made. Requests of one policy that fare alike share it. */
export interface LiveDecision {
  /** What the rules say; `uncovered` where no policy speaks for the request. */
  readonly verdict: Verdict | 'uncovered';
  /** What is done: the verdict, or `allow` where the policy does not enforce, or covers nothing of it. */
  readonly effect: Verdict;
  readonly policy: Policy | undefined;
  /** The rule that decided; undefined where it was the default. */
  readonly rule: Rule | undefined;
  /** What the verdict is to do; undefined where it is to do nothing. */
  readonly action: FinalAction | undefined;
  readonly record: Record;
  readonly tags: readonly string[];
  /** Rules that only observe, and would have acted. */
  readonly observed: readonly Rule[];
}

interface Judging {
  readonly policy: Policy;
  readonly judge: Judge;
  readonly ask: AskLimit;
  /** By the numbers of outcomes. */
  readonly decisions: LiveDecision[];
}

const NOTHING: LiveDecision = {
  ...{ verdict: 'uncovered', effect: 'allow', policy: undefined, rule: undefined },
  ...{ action: undefined, record: 'log', tags: [], observed: [] },
};

const NO_LIMIT: AskLimit = () => false;

/**
 * The rules in force, deciding one request after the other. What limits have counted goes over from the rules before,
 * for every rule whose limit is the same by name and wording.
 */
export class Live {
  readonly prepared: Prepared;
  readonly #router: Router;
  readonly #judging = new Map<Policy, Judging>();
  readonly #windows = new Map<string, SlidingWindows>();
  readonly #before: ReadonlyMap<string, SlidingWindows>;
  /** Times that are counted never go back, whatever clocks do. */
  #now: number;

  constructor(prepared: Prepared, before?: Live) {
    this.prepared = prepared;
    this.#router = createRouter(prepared);
    this.#before = before ? before.#windows : new Map();
    this.#now = before ? before.#now : Number.NEGATIVE_INFINITY;
    // Made now, so that the first request does not wait for it.
    for (const policy of prepared.workspace.policies.values())
      if (policy.stance !== 'off') this.#judging.set(policy, this.#start(policy));
  }

  /** Decides a request that is made at `now`, in milliseconds since 1970. */
  decide(given: Request, now: number): LiveDecision {
    this.#now = Math.max(this.#now, now);
    return this.#judge(given, this.#now, undefined);
  }

  /** The policy that a request goes to; undefined where none covers it. */
  policyFor(request: Request): Policy | undefined {
    return this.#router.route(request);
  }

  #judge(given: Request, now: number, ask: AskLimit | undefined): LiveDecision {
    const request = given.time === now ? given : makeRequest(given, now);
    const policy = this.#router.route(request);
    const judging = policy && this.#judging.get(policy);
    if (!judging) return NOTHING;
    const outcome = judging.judge.one(request, ask ?? judging.ask);
    judging.decisions[outcome.number] ??= decisionOf(judging.policy, outcome);
    return judging.decisions[outcome.number] as LiveDecision;
  }

  /** As `decide`, and counts under no limit: what would be decided if it were asked once more. */
  judge(given: Request, now: number): LiveDecision {
    return this.#judge(given, now, NO_LIMIT);
  }

  /** The client of a request as a policy resolves it, and its country. */
  clientOf(
    request: Request,
    policy: Policy,
  ): { readonly address: Address | undefined; readonly country: string | undefined } {
    const { client, origin } = subjectOf(request, policy, this.prepared);
    return { address: client.address, country: origin?.country };
  }

  #start(policy: Policy): Judging {
    const windows = policy.rules.map((rule) => this.#windowsOf(policy, rule));
    const ask: AskLimit = (rule, _limit, { key, time, amount }) =>
      (windows[rule] as SlidingWindows).add(key, time, amount);
    const judge = new Judge(compilePlan(policy, this.prepared), { firstMatchOnly: true });
    return { policy, judge, ask, decisions: [] };
  }

  #windowsOf(policy: Policy, { name, limit }: Rule): SlidingWindows | undefined {
    if (limit === undefined) return undefined;
    const per = limit.per.map((part) => [part.field, part.name, part.prefix]);
    const { moreThan, counts, within, hold } = limit;
    const same = JSON.stringify([policy.name, name, moreThan, counts, within, hold, per]);
    const windows = this.#before.get(same) ?? new SlidingWindows(limit);
    this.#windows.set(same, windows);
    return windows;
  }
}

function decisionOf(policy: Policy, outcome: Outcome): LiveDecision {
  const { verdict, effect, decidedBy, record, tags, observed } = outcome;
  const rule = policy.rules[decidedBy];
  const action = rule?.then ?? policy.default;
  return {
    ...{ verdict, effect, policy, rule, record, tags },
    action: action.type === 'tag' || action.type !== verdict ? undefined : action,
    observed: observed.map((index) => policy.rules[index] as Rule),
  };
}
