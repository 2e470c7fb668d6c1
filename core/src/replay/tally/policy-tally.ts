import { formatKey, type Outcome, type Unseen } from '../../engine/index.js';
import type { Limit, SlidingWindows } from '../../limit/index.js';
import { defaultSentence, type Policy, type Rule, ruleSentence, VERDICTS, type Verdict } from '../../policy/index.js';
import { remarksOf } from '../remarks.js';
import type { LimitReport, PolicyReport, RuleReport } from '../report.js';
import { type Counts, count, mostFirst } from './counts.js';
import { TimeSpan } from './time-span.js';

/** How many keys over a limit are told one by one. */
const KEYS_TOLD = 20;

/** What a rule's limit counted. */
export interface CountedLimit {
  readonly index: number;
  readonly limit: Limit;
  readonly windows: SlidingWindows;
}

/** Counts how often each outcome of one policy came, and when; what each rule did follows from that. */
export class PolicyTally {
  #counts = new Float64Array(256);
  #spans: (TimeSpan | undefined)[] = [];

  /** Counts an outcome, by its number, at a time in milliseconds; NaN where it has none. */
  add(outcome: number, time: number): void {
    if (outcome >= this.#counts.length) {
      const counts = new Float64Array(Math.max(this.#counts.length * 2, outcome + 1));
      counts.set(this.#counts);
      this.#counts = counts;
    }
    this.#counts[outcome] = (this.#counts[outcome] as number) + 1;
    let span = this.#spans[outcome];
    if (span === undefined) {
      span = new TimeSpan();
      this.#spans[outcome] = span;
    }
    span.add(time);
  }

  report(policy: Policy, outcomes: readonly Outcome[], limits: readonly CountedLimit[]): PolicyReport {
    const tallies = policy.rules.map(() => new RuleTally());
    const verdicts = Object.fromEntries(VERDICTS.map((verdict) => [verdict, 0])) as Record<Verdict, number>;
    let byDefault = 0;
    for (const outcome of outcomes) {
      const times = this.#counts[outcome.number] ?? 0;
      if (times === 0) continue;
      verdicts[outcome.verdict] += times;
      if (outcome.decidedBy === policy.rules.length) byDefault += times;
      addOutcome(tallies, outcome, times, this.#spans[outcome.number] as TimeSpan);
    }
    const requests = VERDICTS.reduce((sum, verdict) => sum + verdicts[verdict], 0);
    let arrived = requests;
    const rules = policy.rules.map((rule, index): RuleReport => {
      const tally = tallies[index] as RuleTally;
      const limit = limits.find((each) => each.index === index);
      const told = { ...rulePart(rule), arrived, ...tally.figures(policy), limit: limit ? limitReport(limit) : null };
      arrived -= told.decided;
      return told;
    });
    const report = {
      policy: policy.name,
      stance: policy.stance,
      clientFrom: policy.client.from,
      requests,
      verdicts,
      rules,
      default: { then: policy.default.type, sentence: defaultSentence(policy), arrived, decided: byDefault },
    };
    return { ...report, remarks: remarksOf(report) };
  }
}

const rulePart = (rule: Rule) => ({
  rule: rule.name,
  sentence: ruleSentence(rule),
  stance: rule.stance,
  then: rule.then.type,
  record: rule.record,
});

function limitReport({ limit, windows }: CountedLimit): LimitReport {
  const { keys, worst } = windows.peaks(KEYS_TOLD);
  return {
    counts: limit.counts,
    moreThan: limit.moreThan,
    within: limit.within / 1000,
    keysOver: keys,
    worst: worst.map(({ key, peak, at }) => ({ key: formatKey(key), peak, at: new Date(at).toISOString() })),
  };
}

function addOutcome(tallies: readonly RuleTally[], outcome: Outcome, times: number, span: TimeSpan): void {
  const each = (rules: readonly number[], add: (tally: RuleTally) => void) => {
    for (const rule of rules) add(tallies[rule] as RuleTally);
  };
  each(outcome.observed, (tally) => tally.acted('observed', times, span));
  each(outcome.tagged, (tally) => tally.acted('tagged', times, span));
  each(outcome.overtaken, (tally) => tally.overtake(outcome.decidedBy, times));
  for (const { rule, unseen } of outcome.blind) tallies[rule]?.blind(unseen, times);
  tallies[outcome.decidedBy]?.acted('decided', times, span);
}

/** What one rule did. */
class RuleTally {
  readonly #acted = { decided: 0, observed: 0, tagged: 0 };
  #overtaken = 0;
  #blind = 0;
  readonly #overtakenBy: Counts<number> = new Map();
  readonly #unseen: Counts<Unseen> = new Map();
  #first: string | null = null;
  #last: string | null = null;

  acted(role: 'decided' | 'observed' | 'tagged', times: number, { first, last }: TimeSpan): void {
    this.#acted[role] += times;
    // Times of one form order as texts.
    if (first !== null && (this.#first === null || first < this.#first)) this.#first = first;
    if (last !== null && (this.#last === null || last > this.#last)) this.#last = last;
  }

  overtake(by: number, times: number): void {
    this.#overtaken += times;
    count(this.#overtakenBy, by, times);
  }

  blind(unseen: readonly Unseen[], times: number): void {
    this.#blind += times;
    for (const field of unseen) count(this.#unseen, field, times);
  }

  figures(policy: Policy) {
    return {
      ...this.#acted,
      overtaken: this.#overtaken,
      blind: this.#blind,
      overtakenBy: mostFirst(this.#overtakenBy).map(([index, requests]) => ({
        rule: policy.rules[index]?.name ?? '',
        requests,
      })),
      unseen: mostFirst(this.#unseen).map(([field, requests]) => ({ field, requests })),
      first: this.#first,
      last: this.#last,
    };
  }
}
