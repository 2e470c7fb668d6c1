import type { ColumnTable } from '../column/index.js';
import type { Prepared } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { ChunkJudge } from './chunk-judge.js';
import { Coordinator } from './coordinator.js';
import type { FinishedChunk } from './finished-chunk.js';
import type { PendingRows } from './pending/pending-rows.js';
import type { Report } from './report.js';
import { type RunOptions, runScope } from './run-scope.js';
import type { Slot } from './slot.js';

const END = Number.POSITIVE_INFINITY;

/**
 * A replay under way in one thread: chunks go in, in the order of the log; each gives its verdicts, and the report
 * grows. With a policy every request is judged by it; without, each by the policy that covers it.
 *
 * Rows that depend on limits are pending until `resolve`, since they must be counted in event time.
 */
export class Run {
  readonly #judge: ChunkJudge;
  readonly #coordinator: Coordinator;
  readonly #pending: (readonly PendingRows[])[] = [];

  constructor(prepared: Prepared, policy?: Policy, options: RunOptions = {}) {
    const scope = runScope(prepared, policy, options);
    this.#judge = new ChunkJudge(scope);
    this.#coordinator = new Coordinator(scope);
  }

  get slots(): readonly Slot[] {
    return this.#judge.slots;
  }

  /** Judges a chunk. Its verdicts, or undefined where some of its requests wait for `resolve`. */
  chunk(table: ColumnTable): ColumnTable | undefined {
    const judged = this.#judge.judge(this.#pending.length, table);
    this.#pending.push('pending' in judged ? judged.pending : []);
    return 'pending' in judged ? undefined : this.#finish(judged);
  }

  /** Resolves what waited for limits. Answers the verdicts of the chunks that waited, by their numbers from 0, in order. */
  *resolve(): Generator<readonly [number, ColumnTable]> {
    const before = (number: number) => (number < this.#pending.length - 1 ? Number.NEGATIVE_INFINITY : END);
    const resolved = this.#pending.flatMap((pending, number) => this.#coordinator.rows(number, pending, before));
    resolved.sort((a, b) => a.number - b.number);
    for (const { number, resolved: rows } of resolved) yield [number, this.#finish(this.#judge.resolve(number, rows))];
  }

  report(): Report {
    return this.#coordinator.report();
  }

  #finish({ number, verdicts, counts }: FinishedChunk): ColumnTable {
    this.#coordinator.count(number, counts);
    return verdicts;
  }
}
