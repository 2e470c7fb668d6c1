import { compilePlan, Judge } from '../engine/index.js';
import { VERDICTS, type Verdict } from '../policy/index.js';
import { LimitOperator, type ResolvedRows } from './pending/limit-operator.js';
import type { PendingRows } from './pending/pending-rows.js';
import { clientRemarks, destinationRemarks } from './remarks.js';
import type { PolicyReport, Report } from './report.js';
import type { RunScope } from './run-scope.js';
import { BreakdownTally } from './tally/breakdowns.js';
import type { ChunkCounts } from './tally/chunk-counts.js';
import { DoubtTally } from './tally/forwarders.js';
import { KnownOutcomes } from './tally/known-outcomes.js';
import { PolicyTally } from './tally/policy-tally.js';
import { TimeSpan } from './tally/time-span.js';
import { UnresolvedTally } from './tally/unresolved.js';

/** The outcomes of the pending rows of a chunk. */
export interface ResolvedChunk {
  readonly number: number;
  readonly resolved: readonly ResolvedRows[];
}

/** One policy, as far as the whole replay goes. */
interface PolicyState {
  readonly judge: Judge;
  readonly operator: LimitOperator;
  readonly outcomes: KnownOutcomes;
  readonly tally: PolicyTally;
  readonly doubts: DoubtTally;
  readonly unresolved: UnresolvedTally;
}

/**
 * Completes a replay from its chunks: resolves limits in the order of the requests' times, and sums up the report. Takes
 * what `ChunkJudge`s made in whatever order it comes, and goes through it in the order of the log, so that the result
 * does not depend on how many of them there were.
 */
export class Coordinator {
  readonly #policies: readonly PolicyState[];
  readonly #breakdowns = new BreakdownTally();
  readonly #span = new TimeSpan();
  #requests = 0;
  #uncovered = 0;
  readonly #early = new Map<number, ChunkCounts>();
  #nextCounts = 0;
  readonly #earlyRows = new Map<number, readonly PendingRows[]>();
  #nextRows = 0;
  /** How many policies still have to resolve rows of a chunk, and what the others have resolved of it. */
  readonly #open = new Map<number, { left: number; readonly resolved: ResolvedRows[] }>();

  constructor({ prepared, policies, options }: RunScope) {
    this.#policies = policies.map((policy, number) => {
      const judge = new Judge(compilePlan(policy, prepared), options);
      const operator = new LimitOperator(number, judge);
      const unresolved = new UnresolvedTally();
      const [outcomes, tally, doubts] = [new KnownOutcomes(), new PolicyTally(), new DoubtTally()];
      return { judge, operator, outcomes, tally, doubts, unresolved };
    });
  }

  /**
   * Takes the pending rows of a chunk, or none. `laterFrom` gives each chunk's watermark: the earliest time of all rows
   * that come behind it in the log, in milliseconds since 1970. Answers the chunks that are resolved by that.
   */
  rows(number: number, pending: readonly PendingRows[], laterFrom: (number: number) => number): ResolvedChunk[] {
    this.#earlyRows.set(number, pending);
    const done: ResolvedChunk[] = [];
    for (let rows = this.#earlyRows.get(this.#nextRows); rows; rows = this.#earlyRows.get(this.#nextRows)) {
      this.#earlyRows.delete(this.#nextRows);
      if (rows.length > 0) this.#open.set(this.#nextRows, { left: rows.length, resolved: [] });
      for (const each of rows) this.#policies[each.policy]?.operator.add(this.#nextRows, each);
      done.push(...this.#resolve(laterFrom(this.#nextRows)));
      this.#nextRows++;
    }
    return done;
  }

  /**
   * Counts a finished chunk. Those of one judge come in the order in which it finished them, since it reports an outcome
   * with the first of them only.
   */
  count(number: number, counts: ChunkCounts): void {
    for (const { policy, newOutcomes } of counts.policies)
      this.#policies[policy]?.outcomes.learn(counts.judge, newOutcomes);
    this.#early.set(number, counts);
    for (let next = this.#early.get(this.#nextCounts); next; next = this.#early.get(this.#nextCounts)) {
      this.#early.delete(this.#nextCounts++);
      this.#add(next);
    }
  }

  report(): Report {
    const policies = this.#policies.map(({ judge, operator, tally, doubts, unresolved }) => {
      const report = tally.report(judge.plan.policy, judge.outcomes, operator.limits);
      if (!judge.plan.policy.destinations.resolve)
        return { ...report, remarks: [...clientRemarks(report.clientFrom, doubts.doubts()), ...report.remarks] };
      const hosts = unresolved.figures();
      const remarks = [
        ...clientRemarks(report.clientFrom, doubts.doubts()),
        ...destinationRemarks(hosts),
        ...report.remarks,
      ];
      return { ...report, unresolved: hosts, remarks };
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

  #resolve(upTo: number): ResolvedChunk[] {
    const done: ResolvedChunk[] = [];
    for (const { operator } of this.#policies)
      for (const [number, rows] of operator.resolve(upTo)) {
        const open = this.#open.get(number) as { left: number; readonly resolved: ResolvedRows[] };
        open.resolved.push(rows);
        if (--open.left > 0) continue;
        this.#open.delete(number);
        done.push({ number, resolved: open.resolved });
      }
    return done;
  }

  #add({ judge: by, requests, uncovered, first, last, policies, breakdowns }: ChunkCounts): void {
    this.#requests += requests;
    this.#uncovered += uncovered;
    this.#span.add(first);
    this.#span.add(last);
    for (const { policy, outcomes, doubts, unresolved } of policies) {
      const { tally, judge, outcomes: own, doubts: known, unresolved: hosts } = this.#policies[policy] as PolicyState;
      hosts.add(unresolved);
      known.add(doubts);
      tally.add(outcomes, (outcome) => own.number(by, outcome, (each) => judge.adopt(each)));
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
