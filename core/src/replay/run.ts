import type { ColumnTable } from '../column/index.js';
import type { Prepared } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { ChunkJudge } from './chunk-judge.js';
import type { FinishedChunk } from './finished-chunk.js';
import { Gatherer } from './gatherer.js';
import type { Report } from './report.js';
import { type RunOptions, runScope } from './run-scope.js';
import type { Slot } from './slot.js';
import type { WaitingRows } from './waiting/waiting-rows.js';

const END = Number.POSITIVE_INFINITY;

/**
 * A replay under way in one thread: chunks go in, in the order of the log; each gives its verdicts, and the report
 * grows. With a policy every request is judged by it; without, each by the policy that covers it.
 *
 * What hangs on limits waits for `settle`, since it has to be counted in the order of the requests' times.
 */
export class Run {
  readonly #judge: ChunkJudge;
  readonly #gatherer: Gatherer;
  readonly #waiting: (readonly WaitingRows[])[] = [];

  constructor(prepared: Prepared, policy?: Policy, options: RunOptions = {}) {
    const scope = runScope(prepared, policy, options);
    this.#judge = new ChunkJudge(scope);
    this.#gatherer = new Gatherer(scope);
  }

  get slots(): readonly Slot[] {
    return this.#judge.slots;
  }

  /** Judges a chunk. Its verdicts, or undefined where some of its requests wait for `settle`. */
  chunk(table: ColumnTable): ColumnTable | undefined {
    const judged = this.#judge.judge(this.#waiting.length, table);
    this.#waiting.push('waiting' in judged ? judged.waiting : []);
    return 'waiting' in judged ? undefined : this.#finish(judged);
  }

  /** Settles what waited for limits. Answers the verdicts of the chunks that waited, by their numbers from 0, in order. */
  *settle(): Generator<readonly [number, ColumnTable]> {
    const before = (number: number) => (number < this.#waiting.length - 1 ? Number.NEGATIVE_INFINITY : END);
    const settled = this.#waiting.flatMap((waiting, number) => this.#gatherer.rows(number, waiting, before));
    settled.sort((a, b) => a.number - b.number);
    for (const { number, settled: rows } of settled) yield [number, this.#finish(this.#judge.settle(number, rows))];
  }

  report(): Report {
    return this.#gatherer.report();
  }

  #finish({ number, verdicts, counts }: FinishedChunk): ColumnTable {
    this.#gatherer.count(number, counts);
    return verdicts;
  }
}
