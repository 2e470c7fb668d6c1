import type { AskLimit, Judge, LimitKey, Outcome, Unseen, Waiting } from '../../engine/index.js';
import { KeyPeaks, SlidingWindows } from '../../limit/index.js';
import type { CountedLimit } from '../tally/policy-tally.js';
import type { WaitingRows } from './waiting-rows.js';

/** What became of the waiting rows of a chunk, row for row. Plain data, as `WaitingRows` is. */
export interface SettledRows {
  readonly policy: number;
  readonly outcomes: readonly Outcome[];
  /** For each row that waited the place of its outcome among `outcomes`. */
  readonly codes: Int32Array;
}

/** The rows of one chunk that wait. */
interface Batch {
  readonly chunk: number;
  readonly rows: WaitingRows;
  readonly classes: readonly Waiting[];
  /** The numbers of the policy's outcomes, or `UNSETTLED`. */
  readonly outcomes: Int32Array;
  left: number;
  /** No row that is left is earlier. */
  earliest: number;
}

const UNSETTLED = -1;

/**
 * Settles the rows of one policy whose outcome hangs on limits, in the order of their times, ties in the order of the
 * log. Rows wait until no earlier one can come any more: of a log in order that is until their chunk's turn.
 */
export class Settling {
  readonly #policy: number;
  readonly #judge: Judge;
  readonly #limits: readonly CountedLimit[];
  /** The place of a rule's limit among the limits. */
  readonly #places: ReadonlyMap<number, number>;
  readonly #ask: AskLimit;
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
    this.#ask = (rule, _, { key, time, amount }) =>
      (this.#limits[this.#places.get(rule) as number] as CountedLimit).windows.add(key, time, amount);
  }

  get limits(): readonly CountedLimit[] {
    return this.#limits;
  }

  /** Takes the rows of the chunk behind those that it was given before. */
  add(chunk: number, rows: WaitingRows): void {
    const count = rows.classes.length;
    this.#batches.push({
      chunk,
      rows,
      classes: rows.examples.map((example) => this.#judge.waiting(example)),
      outcomes: new Int32Array(count).fill(UNSETTLED),
      left: count,
      earliest: rows.times.reduce((least, time) => Math.min(least, time), Number.POSITIVE_INFINITY),
    });
  }

  /** Settles all rows up to the time; answers the chunks of which none is left. */
  settle(upTo: number): [number, SettledRows][] {
    const due = this.#batches.filter((batch) => batch.earliest <= upTo);
    for (const [batch, row] of inOrder(due, upTo)) this.#settleRow(batch, row);
    for (const batch of due) batch.earliest = earliestLeft(batch);
    const done = this.#batches.filter(({ left }) => left === 0);
    this.#batches = this.#batches.filter(({ left }) => left > 0);
    return done.map(({ chunk, outcomes }) => [chunk, this.#settledRows(outcomes)]);
  }

  #settleRow(batch: Batch, row: number): void {
    const waiting = batch.classes[batch.rows.classes[row] as number] as Waiting;
    batch.outcomes[row] = this.#judge.settle(waiting, (rule) => this.#key(batch.rows, rule, row), this.#ask);
    batch.left--;
  }

  #key({ keys, times, amounts }: WaitingRows, rule: number, row: number): LimitKey {
    const place = this.#places.get(rule) as number;
    const { numbers, texts, unseen } = keys[place] as WaitingRows['keys'][number];
    const number = numbers[row] as number;
    if (number < 0) return { unseen: unseen[-1 - number] as readonly Unseen[] };
    const amount = this.#limits[place]?.limit.counts === 'bytes' ? (amounts?.[row] ?? 0) : 1;
    return { key: texts[number] as string, time: times[row] as number, amount };
  }

  #settledRows(numbers: Int32Array): SettledRows {
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

/** The rows of the batches up to the time that are left, in the order of their times. */
function* inOrder(batches: readonly Batch[], upTo: number): Generator<readonly [Batch, number]> {
  const isDue = ({ outcomes, rows }: Batch, row: number) =>
    outcomes[row] === UNSETTLED && (rows.times[row] as number) <= upTo;
  const count = batches.reduce((sum, batch) => sum + batch.left, 0);
  const [from, rows, times] = [new Int32Array(count), new Int32Array(count), new Float64Array(count)];
  let due = 0;
  let sorted = true;
  batches.forEach((batch, number) => {
    for (let row = 0; row < batch.outcomes.length; row++) {
      if (!isDue(batch, row)) continue;
      from[due] = number;
      rows[due] = row;
      times[due] = batch.rows.times[row] as number;
      if (due > 0 && (times[due] as number) < (times[due - 1] as number)) sorted = false;
      due++;
    }
  });
  const order = Uint32Array.from({ length: due }, (_, at) => at);
  // Most logs are in order, and then need no sorting.
  if (!sorted) order.sort((a, b) => (times[a] as number) - (times[b] as number) || a - b);
  for (const at of order) yield [batches[from[at] as number] as Batch, rows[at] as number];
}

function earliestLeft({ outcomes, rows, left }: Batch): number {
  let earliest = Number.POSITIVE_INFINITY;
  if (left === 0) return earliest;
  for (let row = 0; row < outcomes.length; row++)
    if (outcomes[row] === UNSETTLED) earliest = Math.min(earliest, rows.times[row] as number);
  return earliest;
}
