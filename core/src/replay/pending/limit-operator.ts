import type { AskLimit, Judge, LimitKey, Outcome, Unresolved, Unseen } from '../../engine/index.js';
import { KeyPeaks, type KeyWindow, SlidingWindows } from '../../limit/index.js';
import type { CountedLimit } from '../tally/policy-tally.js';
import type { PendingRows } from './pending-rows.js';

/** The outcomes of the pending rows of a chunk, row for row. Plain data, as `PendingRows` is. */
export interface ResolvedRows {
  readonly policy: number;
  readonly outcomes: readonly Outcome[];
  /** For each pending row the place of its outcome among `outcomes`. */
  readonly codes: Int32Array;
}

/** The pending rows of one chunk. */
interface Batch {
  readonly chunk: number;
  readonly rows: PendingRows;
  readonly classes: readonly Unresolved[];
  /** For each limit the windows that count under the keys, so that a key is looked up once. */
  readonly windows: readonly (KeyWindow | undefined)[][];
  /** The numbers of the policy's outcomes, or `UNRESOLVED`. */
  readonly outcomes: Int32Array;
  left: number;
  /** No row that is left is earlier. */
  earliest: number;
}

const UNRESOLVED = -1;

/**
 * Resolves the pending rows of one policy in event time, ties in the order of the log. A row waits until the watermark
 * has passed it, that is, until no earlier row can come; in a log that is in order, until its chunk's turn.
 */
export class LimitOperator {
  readonly #policy: number;
  readonly #judge: Judge;
  readonly #limits: readonly CountedLimit[];
  /** The place of a rule's limit among the limits. */
  readonly #places: ReadonlyMap<number, number>;
  readonly #ask: AskLimit;
  /** The row that is resolved, and the number of its key that was looked up last. */
  readonly #asked: { batch: Batch | undefined; row: number; key: number } = { batch: undefined, row: 0, key: 0 };
  readonly #keyOf = (rule: number): LimitKey => this.#key(this.#asked.batch as Batch, rule, this.#asked.row);
  #batches: Batch[] = [];

  constructor(policy: number, judge: Judge) {
    this.#policy = policy;
    this.#judge = judge;
    this.#limits = judge.plan.policy.rules.flatMap(({ limit }, index) => {
      if (limit === undefined) return [];
      const peaks = new KeyPeaks();
      return [{ index, limit, peaks, windows: new SlidingWindows({ ...limit, peaks }) }];
    });
    this.#places = new Map(this.#limits.map(({ index }, place) => [index, place]));
    this.#ask = (rule, _, { key, time, amount }) => {
      const place = this.#places.get(rule) as number;
      const { windows } = this.#limits[place] as CountedLimit;
      const { batch, key: number } = this.#asked;
      const known = (batch as Batch).windows[place] as (KeyWindow | undefined)[];
      let window = known[number];
      if (window === undefined || window.forgotten) {
        window = windows.window(key, time);
        known[number] = window;
      }
      return windows.count(window, time, amount);
    };
  }

  get limits(): readonly CountedLimit[] {
    return this.#limits;
  }

  /** Takes the rows of the chunk behind those that it was given before. */
  add(chunk: number, rows: PendingRows): void {
    const count = rows.classes.length;
    this.#batches.push({
      chunk,
      rows,
      classes: rows.examples.map((example) => this.#judge.unresolved(example)),
      windows: rows.keys.map(({ texts }) => new Array(texts.length)),
      outcomes: new Int32Array(count).fill(UNRESOLVED),
      left: count,
      earliest: earliestOf(rows.times),
    });
  }

  /** Resolves all rows up to the time; answers the chunks of which none is left. */
  resolve(upTo: number): [number, ResolvedRows][] {
    const due = this.#batches.filter((batch) => batch.earliest <= upTo);
    const { from, rows, order } = inOrder(due, upTo);
    for (let at = 0; at < order.length; at++) {
      const index = order[at] as number;
      this.#resolveRow(due[from[index] as number] as Batch, rows[index] as number);
    }
    for (const batch of due) batch.earliest = earliestLeft(batch);
    const done = this.#batches.filter(({ left }) => left === 0);
    this.#batches = this.#batches.filter(({ left }) => left > 0);
    return done.map(({ chunk, outcomes }) => [chunk, this.#resolvedRows(outcomes)]);
  }

  #resolveRow(batch: Batch, row: number): void {
    const pending = batch.classes[batch.rows.classes[row] as number] as Unresolved;
    this.#asked.batch = batch;
    this.#asked.row = row;
    batch.outcomes[row] = this.#judge.resolve(pending, this.#keyOf, this.#ask);
    batch.left--;
  }

  #key({ rows: { keys, times, amounts } }: Batch, rule: number, row: number): LimitKey {
    const place = this.#places.get(rule) as number;
    const { numbers, texts, unseen } = keys[place] as PendingRows['keys'][number];
    const number = numbers[row] as number;
    if (number < 0) return { unseen: unseen[-1 - number] as readonly Unseen[] };
    this.#asked.key = number;
    const amount = this.#limits[place]?.limit.counts === 'bytes' ? (amounts?.[row] ?? 0) : 1;
    return { key: texts[number] as string, time: times[row] as number, amount };
  }

  #resolvedRows(numbers: Int32Array): ResolvedRows {
    const outcomes: Outcome[] = [];
    const codeOf = new Map<number, number>();
    const codes = numbers.map((number) => {
      let code = codeOf.get(number);
      if (code === undefined) {
        code = outcomes.push(this.#judge.outcomes[number] as Outcome) - 1;
        codeOf.set(number, code);
      }
      return code;
    });
    return { policy: this.#policy, outcomes, codes };
  }
}

/** Rows of batches, and the order to take them in. */
interface Ordered {
  readonly from: Int32Array;
  readonly rows: Int32Array;
  readonly order: Uint32Array;
}

/** The rows of the batches up to the time that are left, in the order of their times. */
function inOrder(batches: readonly Batch[], upTo: number): Ordered {
  const count = batches.reduce((sum, batch) => sum + batch.left, 0);
  const [from, rows, times] = [new Int32Array(count), new Int32Array(count), new Float64Array(count)];
  let due = 0;
  let sorted = true;
  let before = Number.NEGATIVE_INFINITY;
  for (const [number, { outcomes, rows: own }] of batches.entries())
    for (let row = 0; row < outcomes.length; row++) {
      const time = own.times[row] as number;
      if (outcomes[row] !== UNRESOLVED || time > upTo) continue;
      from[due] = number;
      rows[due] = row;
      times[due++] = time;
      if (time < before) sorted = false;
      before = time;
    }
  const order = new Uint32Array(due);
  for (let at = 0; at < due; at++) order[at] = at;
  // Most logs are in order, and then need no sorting.
  if (!sorted) order.sort((a, b) => (times[a] as number) - (times[b] as number) || a - b);
  return { from, rows, order };
}

function earliestOf(times: Float64Array): number {
  let earliest = Number.POSITIVE_INFINITY;
  for (let at = 0; at < times.length; at++) earliest = Math.min(earliest, times[at] as number);
  return earliest;
}

function earliestLeft({ outcomes, rows, left }: Batch): number {
  let earliest = Number.POSITIVE_INFINITY;
  if (left === 0) return earliest;
  for (let row = 0; row < outcomes.length; row++)
    if (outcomes[row] === UNRESOLVED) earliest = Math.min(earliest, rows.times[row] as number);
  return earliest;
}
