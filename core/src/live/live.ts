import { type Address } from '../address/index.js';
import {
  type AskLimit,
  compilePlan,
  countriesOf,
  countriesText,
  countryIn,
  createRouter,
  destinationsOf,
  Judge,
  type Outcome,
  type PreparedRules,
  type Router,
} from '../engine/index.js';
import { SlidingWindows } from '../limit/index.js';
import type { FinalAction, Policy, Record, Rule, Verdict } from '../policy/index.js';
import { type ClientTrust, findClient, makeRequest, type Request } from '../request/index.js';
import { isToResolve } from '../resolution/index.js';

/** The decision for a live request. Requests of one policy with the same outcome share it. */
export interface LiveDecision {
  /** The decision of the rules; `uncovered` when no policy covers the request. */
  readonly verdict: Verdict | 'uncovered';
  /** The action taken: the verdict, or `allow` when the policy does not enforce, or covers nothing of it. */
  readonly effect: Verdict;
  readonly policy: Policy | undefined;
  /** The rule that decided; undefined where it was the default. */
  readonly rule: Rule | undefined;
  /** The details of the verdict; undefined for none. */
  readonly action: FinalAction | undefined;
  readonly record: Record;
  readonly tags: readonly string[];
  /** Rules that only observe, and would have acted. */
  readonly observed: readonly Rule[];
}

interface Judging {
  readonly policy: Policy;
  /** The limit of each rule that has one. */
  readonly windows: readonly (SlidingWindows | undefined)[];
  judge: Judge;
  /** By the numbers of outcomes. */
  decisions: LiveDecision[];
}

const NOTHING: LiveDecision = {
  ...{ verdict: 'uncovered', effect: 'allow', policy: undefined, rule: undefined },
  ...{ action: undefined, record: 'log', tags: [], observed: [] },
};

/** More outcomes of one policy than this, and what was remembered of them is let go. */
const MOST_OUTCOMES = 100_000;

/**
 * The rules in force, applied to one request after the other. Counts under limits carry over from the rules before,
 * for every rule whose limit is the same by name and wording.
 */
export class Live {
  readonly prepared: PreparedRules;
  readonly #router: Router;
  readonly #judging = new Map<Policy, Judging>();
  readonly #windows = new Map<string, SlidingWindows>();
  readonly #before: ReadonlyMap<string, SlidingWindows>;
  readonly #want: (host: string) => void;
  /** By which limits count; it never goes back. */
  #ticks: number;

  /** `want` is called with each host whose addresses a policy needs, and of which none is known that still holds. */
  constructor(prepared: PreparedRules, before?: Live, want: (host: string) => void = () => undefined) {
    this.prepared = prepared;
    this.#want = want;
    this.#router = createRouter(prepared);
    this.#before = before ? before.#windows : new Map();
    this.#ticks = before ? before.#ticks : Number.NEGATIVE_INFINITY;
    // Made now, so that the first request does not wait for it.
    for (const policy of prepared.workspace.policies.values())
      if (policy.stance !== 'off') this.#judging.set(policy, this.#start(policy));
  }

  /**
   * Decides a request that is made at `now`, in milliseconds since 1970, by which schedules are judged. `ticks`: what a
   * monotonic clock says, in milliseconds, by which limits count; a wall clock that jumps would freeze them.
   */
  decide(given: Request, now: number, ticks = now): LiveDecision {
    this.#ticks = Math.max(this.#ticks, ticks);
    return this.#judge(given, now, (windows, key, amount) => windows.add(key, this.#ticks, amount));
  }

  /** As `decide`, without counting: the decision by the limits' present counts. */
  judge(given: Request, now: number, ticks = now): LiveDecision {
    const at = Math.max(this.#ticks, ticks);
    return this.#judge(given, now, (windows, key) => windows.isOver(key, at));
  }

  /** The policy that a request goes to; undefined where none covers it. */
  policyFor(request: Request): Policy | undefined {
    return this.#router.route(request);
  }

  #judge(
    given: Request,
    now: number,
    over: (windows: SlidingWindows, key: string, amount: number) => boolean,
  ): LiveDecision {
    const request = given.time === now ? given : makeRequest(given, now);
    const policy = this.#router.route(request);
    const judging = policy && this.#judging.get(policy);
    if (!judging) return NOTHING;
    if (policy.destinations.resolve) this.#resolve(request, now);
    if (judging.judge.outcomes.length > MOST_OUTCOMES) Object.assign(judging, this.#remembering(policy));
    const ask: AskLimit = (rule, _limit, { key, amount }) => over(judging.windows[rule] as SlidingWindows, key, amount);
    const outcome = judging.judge.one(request, ask);
    judging.decisions[outcome.number] ??= decisionOf(judging.policy, outcome);
    return judging.decisions[outcome.number] as LiveDecision;
  }

  #resolve({ destination, host }: Request, now: number): void {
    if (destination !== undefined || host === undefined) return;
    if (isToResolve(this.prepared.resolutions, host, now)) this.#want(host);
  }

  /** The client of a request as a policy resolves it, and its country. */
  clientOf(
    request: Request,
    policy: Policy,
  ): { readonly address: Address | undefined; readonly country: string | undefined } {
    const { address } = findClient(request, this.prepared.trust.get(policy.name) as ClientTrust);
    return { address, country: address && countryIn(this.prepared.shared().partition, address) };
  }

  /** The countries of a request's destination as a policy sees them, parted by blanks; undefined where not known. */
  destinationCountryOf(request: Request, policy: Policy): string | undefined {
    const { resolutions, shared } = this.prepared;
    const addresses = destinationsOf(request, policy, resolutions);
    const countries = addresses && countriesOf(addresses, (address) => countryIn(shared().partition, address));
    return countries && countriesText(countries);
  }

  #start(policy: Policy): Judging {
    return { policy, windows: policy.rules.map((rule) => this.#windowsOf(policy, rule)), ...this.#remembering(policy) };
  }

  #remembering(policy: Policy): Pick<Judging, 'judge' | 'decisions'> {
    return { judge: new Judge(compilePlan(policy, this.prepared), { firstMatchOnly: true }), decisions: [] };
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
