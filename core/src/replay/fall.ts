import { VERDICTS, type Verdict } from '../policy/index.js';
import type { KeptOutcome } from './outcome-text.js';
import type { RuleReport } from './report.js';
import type { Slot } from './slot.js';

/** How some of the requests of a replay fall through one policy. */
export interface PolicyFall {
  readonly policy: string;
  readonly requests: number;
  readonly verdicts: Readonly<Record<Verdict, number>>;
  /** In the order of the policy. */
  readonly rules: readonly RuleFall[];
  readonly default: { readonly arrived: number; readonly decided: number };
}

/** Counts of requests, as a report has them of all. */
export type RuleFall = Pick<RuleReport, 'rule' | 'arrived' | 'decided' | 'tagged' | 'observed' | 'overtaken' | 'blind'>;

type Counts = { -readonly [K in Exclude<keyof RuleFall, 'rule'>]: number };

/** Counts requests by their outcome, rule by rule, as a report does. */
export class Fall {
  readonly #slots: readonly Slot[];
  readonly #counts: readonly Counts[];
  readonly #verdicts = new Map<string, Record<Verdict, number>>();
  #requests = 0;
  #uncovered = 0;

  constructor(slots: readonly Slot[]) {
    this.#slots = slots;
    this.#counts = slots.map(() => ({ arrived: 0, decided: 0, tagged: 0, observed: 0, overtaken: 0, blind: 0 }));
    for (const { policy } of slots) if (!this.#verdicts.has(policy)) this.#verdicts.set(policy, noVerdicts());
  }

  /** Counts this many requests of one outcome; undefined: no policy covers them. */
  add(outcome: KeptOutcome | undefined, requests: number): void {
    this.#requests += requests;
    if (outcome === undefined) {
      this.#uncovered += requests;
      return;
    }
    const at = (slot: number) => this.#counts[slot] as Counts;
    at(outcome.slot).decided += requests;
    for (const slot of outcome.tagged) at(slot).tagged += requests;
    for (const slot of outcome.observed) at(slot).observed += requests;
    for (const slot of outcome.overtaken) at(slot).overtaken += requests;
    for (const { slot } of outcome.blind) at(slot).blind += requests;
    const verdicts = this.#verdicts.get((this.#slots[outcome.slot] as Slot).policy);
    if (verdicts) verdicts[outcome.verdict] += requests;
  }

  get requests(): number {
    return this.#requests;
  }

  get uncovered(): number {
    return this.#uncovered;
  }

  /** The policies, in the order of their slots. What a rule above decides does not arrive at those below. */
  policies(): PolicyFall[] {
    return [...this.#verdicts].map(([policy, verdicts]): PolicyFall => {
      const requests = VERDICTS.reduce((sum, verdict) => sum + verdicts[verdict], 0);
      let arrived = requests;
      const rules: RuleFall[] = [];
      for (const [slot, { policy: of, rule }] of this.#slots.entries()) {
        if (of !== policy || rule === null) continue;
        const counts = this.#counts[slot] as Counts;
        rules.push({ rule, ...counts, arrived });
        arrived -= counts.decided;
      }
      return { policy, requests, verdicts, rules, default: { arrived, decided: arrived } };
    });
  }
}

const noVerdicts = (): Record<Verdict, number> =>
  Object.fromEntries(VERDICTS.map((verdict) => [verdict, 0])) as Record<Verdict, number>;
