import type { ColumnTable } from '../column/index.js';
import type { JudgeOptions, Prepared } from '../engine/index.js';
import { type Policy, VERDICTS, type Verdict } from '../policy/index.js';
import { ChunkRun } from './chunk-run.js';
import { PolicyRun } from './policy-run.js';
import { DIMENSIONS, type Dimension, type PolicyReport, type Report } from './report.js';
import { Routing } from './routing.js';
import { numberSlots, type Slot } from './slot.js';
import { BreakdownTally } from './tally/breakdowns.js';
import { TimeSpan } from './tally/time-span.js';

export interface RunOptions extends JudgeOptions {
  /** What requests are counted by in the report. Default all that there is. */
  readonly breakdowns?: readonly Dimension[];
}

/** What all chunks of a run are counted in. */
export interface RunTallies {
  readonly span: TimeSpan;
  readonly breakdowns: BreakdownTally;
  requests: number;
  uncovered: number;
}

/**
 * A replay under way: chunks go in, in the order of the log; each gives its verdicts, and the report grows. With a
 * policy's name every request is judged by it; without, each by the policy that covers it.
 *
 * What hangs on limits waits for `settle`, since it has to be counted in the order of the requests' times.
 */
export class Run {
  readonly #prepared: Prepared;
  readonly #routing: Routing | undefined;
  readonly #slots: readonly Slot[];
  readonly #policies: readonly PolicyRun[];
  readonly #waiting = new Map<number, ChunkRun>();
  #chunks = 0;
  readonly #tallies: RunTallies;

  constructor(prepared: Prepared, policy?: Policy, options: RunOptions = {}) {
    const policies = policy ? [policy] : [...prepared.workspace.policies.values()];
    const { slots, first } = numberSlots(policies);
    this.#prepared = prepared;
    this.#tallies = {
      span: new TimeSpan(),
      breakdowns: new BreakdownTally(prepared, options.breakdowns ?? DIMENSIONS),
      requests: 0,
      uncovered: 0,
    };
    this.#routing = policy ? undefined : new Routing(prepared, policies);
    this.#slots = slots;
    this.#policies = policies.map((each) => new PolicyRun(each, first.get(each.name) as number, prepared, options));
  }

  get slots(): readonly Slot[] {
    return this.#slots;
  }

  /** Judges a chunk. Its verdicts, or undefined where some of its requests wait for `settle`. */
  chunk(table: ColumnTable): ColumnTable | undefined {
    const number = this.#chunks++;
    const chunk = new ChunkRun(table, this.#policies);
    chunk.judge(this.#routing?.route(table), number, this.#prepared);
    if (chunk.settled) return chunk.finish(this.#tallies);
    this.#waiting.set(number, chunk);
    return undefined;
  }

  /** Settles what waited for limits. Answers the verdicts of the chunks that waited, by their numbers from 0, in order. */
  *settle(): Generator<readonly [number, ColumnTable]> {
    for (const policy of this.#policies)
      policy.pending.settle((chunk, at, outcome) => this.#waiting.get(chunk)?.settle(policy, at, outcome));
    for (const [number, chunk] of this.#waiting) {
      this.#waiting.delete(number);
      yield [number, chunk.finish(this.#tallies)];
    }
  }

  report(): Report {
    const { span, breakdowns, requests, uncovered } = this.#tallies;
    const policies = this.#policies.map((policy) => policy.report());
    return {
      requests,
      uncovered,
      verdicts: summed(policies, ({ verdicts }) => verdicts),
      effects: summed(policies, effectsOf),
      first: span.first,
      last: span.last,
      policies,
      breakdowns: breakdowns.breakdowns(),
    };
  }
}

type ByVerdict = Readonly<Record<Verdict, number>>;

function summed(policies: readonly PolicyReport[], of: (policy: PolicyReport) => ByVerdict): ByVerdict {
  const sum = (verdict: Verdict) => policies.reduce((total, policy) => total + of(policy)[verdict], 0);
  return Object.fromEntries(VERDICTS.map((verdict) => [verdict, sum(verdict)])) as ByVerdict;
}

function effectsOf({ stance, verdicts, requests }: PolicyReport): ByVerdict {
  if (stance === 'enforce') return verdicts;
  return Object.fromEntries(VERDICTS.map((verdict) => [verdict, verdict === 'allow' ? requests : 0])) as ByVerdict;
}
