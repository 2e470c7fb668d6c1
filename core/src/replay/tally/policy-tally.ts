import { keyText, keyTexts, type Outcome, type Unseen } from '../../engine/index.js';
import type { Kernel } from '../../kernel/index.js';
import { formatKeyPart, type KeyPeaks, type Limit, type SlidingWindows } from '../../limit/index.js';
import { defaultSentence, type Policy, type Rule, ruleSentence, VERDICTS, type Verdict } from '../../policy/index.js';
import { remarksOf } from '../remarks.js';
import type { LimitReport, PolicyReport, RuleReport } from '../report.js';
import { type Counts, count, mostFirst } from './counts.js';
import { TimeSpan } from './time-span.js';

/** How many keys over a limit are listed one by one. */
const KEYS_LISTED = 20;

/** The counts of a rule's limit. */
export interface CountedLimit {
  readonly index: number;
  readonly limit: Limit;
  readonly windows: SlidingWindows;
  readonly peaks: KeyPeaks;
}

/** How often outcomes of one policy came in a chunk, and when. Plain data. */
export interface OutcomeCounts {
  /** The outcomes, by their numbers at the judge. */
  readonly outcomes: Uint32Array;
  readonly counts: Float64Array;
  /** The earliest and the latest time of each. */
  readonly first: Float64Array;
  readonly last: Float64Array;
}

/**
 * Counts the outcomes of rows, by their numbers below `outcomeCount`; `times` has the time of each row of the chunk, NaN for
 * none. Counts are in the order in which the outcomes came.
 */
export function countOutcomes(
  kernel: Kernel,
  numbers: Int32Array,
  outcomeCount: number,
  rows: Uint32Array,
  times: Float64Array,
): OutcomeCounts {
  kernel.reset();
  const rowsAt = rows.length === times.length ? 0 : kernel.put(rows);
  const [outcomes, timesAt] = [kernel.put(numbers), kernel.put(times)];
  const places = kernel.put(new Uint32Array(outcomeCount));
  const most = Math.min(outcomeCount, rows.length);
  const [order, sums] = [kernel.take(most * 4), kernel.take(most * SUM * 8)];
  const found = kernel.calls.countOutcomes(outcomes, rowsAt, timesAt, rows.length, places, order, sums);
  const sum = kernel.doubles(sums, found * SUM);
  const column = (at: number) => {
    const values = new Float64Array(found);
    for (let place = 0; place < found; place++) values[place] = sum[place * SUM + at] as number;
    return values;
  };
  return {
    outcomes: kernel.words(order, found).slice(),
    counts: column(0),
    first: column(1),
    last: column(2),
  };
}

/** A count, the earliest and the latest time. */
const SUM = 3;

/** Counts how often each outcome of one policy came, and when; what each rule did follows from that. */
export class PolicyTally {
  #counts = new Float64Array(256);
  #first = new Float64Array(256).fill(Number.POSITIVE_INFINITY);
  #last = new Float64Array(256).fill(Number.NEGATIVE_INFINITY);

  /** Adds the counts of a chunk; `numberOf` gives the number here, from 0 on, of an outcome of its judge. */
  add({ outcomes, counts, first, last }: OutcomeCounts, numberOf: (outcome: number) => number): void {
    for (let place = 0; place < outcomes.length; place++) {
      const number = numberOf(outcomes[place] as number);
      this.#reserve(number + 1);
      this.#counts[number] = (this.#counts[number] as number) + (counts[place] as number);
      this.#first[number] = Math.min(this.#first[number] as number, first[place] as number);
      this.#last[number] = Math.max(this.#last[number] as number, last[place] as number);
    }
  }

  #reserve(count: number): void {
    const { length } = this.#counts;
    if (count <= length) return;
    const grown = (from: Float64Array, fill: number) => {
      const larger = new Float64Array(Math.max(length * 2, count)).fill(fill);
      larger.set(from);
      return larger;
    };
    this.#counts = grown(this.#counts, 0);
    this.#first = grown(this.#first, Number.POSITIVE_INFINITY);
    this.#last = grown(this.#last, Number.NEGATIVE_INFINITY);
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
      const span = { first: this.#first[outcome.number] as number, last: this.#last[outcome.number] as number };
      addOutcome(tallies, outcome, times, span);
    }
    const requests = VERDICTS.reduce((sum, verdict) => sum + verdicts[verdict], 0);
    let arrived = requests;
    const rules = policy.rules.map((rule, index): RuleReport => {
      const tally = tallies[index] as RuleTally;
      const limit = limits.find((each) => each.index === index);
      const shown = { ...rulePart(rule), arrived, ...tally.figures(policy), limit: limit ? limitReport(limit) : null };
      arrived -= shown.decided;
      return shown;
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

function limitReport({ limit, windows, peaks }: CountedLimit): LimitReport {
  const { keys, worst } = windows.peaks(KEYS_LISTED);
  return {
    counts: limit.counts,
    moreThan: limit.moreThan,
    within: limit.within / 1000,
    keysOver: keys,
    curve: peaks.curve(limit.moreThan),
    uncounted: peaks.beyond,
    per: limit.per.map(formatKeyPart),
    worst: worst.map(({ key, peak, at }) => {
      const parts = keyTexts(limit.per, key);
      return { key: keyText(parts), parts, peak, at: new Date(at).toISOString() };
    }),
  };
}

/** Milliseconds since 1970; infinite where no request has a time. */
interface Span {
  readonly first: number;
  readonly last: number;
}

function addOutcome(tallies: readonly RuleTally[], outcome: Outcome, times: number, span: Span): void {
  const each = (rules: readonly number[], add: (tally: RuleTally) => void) => {
    for (const rule of rules) add(tallies[rule] as RuleTally);
  };
  each(outcome.observed, (tally) => tally.acted('observed', times, span));
  each(outcome.tagged, (tally) => tally.acted('tagged', times, span));
  each(outcome.overtaken, (tally) => tally.overtake(outcome.decidedBy, times));
  for (const { rule, unseen } of outcome.blind) tallies[rule]?.blind(unseen, times);
  tallies[outcome.decidedBy]?.acted('decided', times, span);
}

/** The counts of one rule. */
class RuleTally {
  readonly #acted = { decided: 0, observed: 0, tagged: 0 };
  #overtaken = 0;
  #blind = 0;
  readonly #overtakenBy: Counts<number> = new Map();
  readonly #unseen: Counts<Unseen> = new Map();
  readonly #span = new TimeSpan();

  acted(role: 'decided' | 'observed' | 'tagged', times: number, { first, last }: Span): void {
    this.#acted[role] += times;
    this.#span.add(first);
    this.#span.add(last);
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
      first: this.#span.first,
      last: this.#span.last,
    };
  }
}
