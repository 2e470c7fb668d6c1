import { compilePlan, Judge } from '../engine/index.js';
import { VERDICTS, type Verdict } from '../policy/index.js';
import { clientRemarks } from './remarks.js';
import type { PolicyReport, Report } from './report.js';
import type { RunScope } from './run-scope.js';
import { BreakdownTally } from './tally/breakdowns.js';
import type { ChunkCounts } from './tally/chunk-counts.js';
import { DoubtTally } from './tally/forwarders.js';
import { PolicyTally } from './tally/policy-tally.js';
import { TimeSpan } from './tally/time-span.js';
import { type SettledRows, Settling } from './waiting/settling.js';
import type { WaitingRows } from './waiting/waiting-rows.js';

/** What became of the waiting rows of a chunk. */
export interface SettledChunk {
  readonly number: number;
  readonly settled: readonly SettledRows[];
}

/** One policy, as far as the whole replay goes. */
interface Gathered {
  readonly judge: Judge;
  readonly settling: Settling;
  readonly tally: PolicyTally;
  readonly doubts: DoubtTally;
}

/**
 * Gathers a replay from its chunks: settles limits in the order of the requests' times, and sums up the report. Takes
 * what `ChunkJudge`s made in whatever order it comes, and goes through it in the order of the log, so that the result
 * does not depend on how many of them there were.
 */
export class Gatherer {
  readonly #policies: readonly Gathered[];
  readonly #breakdowns = new BreakdownTally();
  readonly #span = new TimeSpan();
  #requests = 0;
  #uncovered = 0;
  readonly #early = new Map<number, ChunkCounts>();
  #nextCounts = 0;
  readonly #earlyRows = new Map<number, readonly WaitingRows[]>();
  #nextRows = 0;
  /** How many policies still have to settle rows of a chunk, and what the others have settled of it. */
  readonly #open = new Map<number, { left: number; readonly settled: SettledRows[] }>();

  constructor({ prepared, policies, options }: RunScope) {
    this.#policies = policies.map((policy, number) => {
      const judge = new Judge(compilePlan(policy, prepared), options);
      return { judge, settling: new Settling(number, judge), tally: new PolicyTally(), doubts: new DoubtTally() };
    });
  }

  /**
   * Takes the rows of a chunk that wait; none where none do. `laterFrom` tells for each chunk the earliest time of all
   * that come behind it in the log, in milliseconds since 1970. Answers the chunks that are settled by that.
   */
  rows(number: number, waiting: readonly WaitingRows[], laterFrom: (number: number) => number): SettledChunk[] {
    this.#earlyRows.set(number, waiting);
    const done: SettledChunk[] = [];
    for (let rows = this.#earlyRows.get(this.#nextRows); rows; rows = this.#earlyRows.get(this.#nextRows)) {
      this.#earlyRows.delete(this.#nextRows);
      if (rows.length > 0) this.#open.set(this.#nextRows, { left: rows.length, settled: [] });
      for (const each of rows) this.#policies[each.policy]?.settling.add(this.#nextRows, each);
      done.push(...this.#settle(laterFrom(this.#nextRows)));
      this.#nextRows++;
    }
    return done;
  }

  /** Counts a finished chunk. */
  count(number: number, counts: ChunkCounts): void {
    this.#early.set(number, counts);
    for (let next = this.#early.get(this.#nextCounts); next; next = this.#early.get(this.#nextCounts)) {
      this.#early.delete(this.#nextCounts++);
      this.#add(next);
    }
  }

  report(): Report {
    const policies = this.#policies.map(({ judge, settling, tally, doubts }) => {
      const report = tally.report(judge.plan.policy, judge.outcomes, settling.limits);
      return { ...report, remarks: [...clientRemarks(report.clientFrom, doubts.doubts()), ...report.remarks] };
    });
    return {
      requests: this.#requests,
      uncovered: this.#uncovered,
      verdicts: summed(policies, ({ verdicts }) => verdicts),
      effects: summed(policies, effectsOf),
      first: this.#span.first,
      last: this.#span.last,
      policies,
      breakdowns: this.#breakdowns.breakdowns(),
    };
  }

  #settle(upTo: number): SettledChunk[] {
    const done: SettledChunk[] = [];
    for (const { settling } of this.#policies)
      for (const [number, rows] of settling.settle(upTo)) {
        const open = this.#open.get(number) as { left: number; readonly settled: SettledRows[] };
        open.settled.push(rows);
        if (--open.left > 0) continue;
        this.#open.delete(number);
        done.push({ number, settled: open.settled });
      }
    return done;
  }

  #add({ requests, uncovered, first, last, policies, breakdowns }: ChunkCounts): void {
    this.#requests += requests;
    this.#uncovered += uncovered;
    this.#span.add(first);
    this.#span.add(last);
    for (const { policy, outcomes, doubts } of policies) {
      const { tally, judge, doubts: known } = this.#policies[policy] as Gathered;
      known.add(doubts);
      tally.add(outcomes, (outcome) => judge.adopt(outcome));
    }
    this.#breakdowns.add(breakdowns);
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
