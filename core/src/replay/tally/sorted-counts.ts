/** Counts under numbers, in the order of the numbers, each once. */
export interface CountRun {
  readonly keys: Float64Array;
  readonly counts: Float64Array;
}

/** One run is merged with the one before it when that is at most this many times as long. */
const ALIKE = 2;

/**
 * Sums up runs of counts under many distinct numbers. Runs of about the same length are merged, so that each count is
 * moved a few times only, and memory is gone through in order (O'Neil and others, "The log-structured merge-tree", 1996).
 */
export class SortedCounts {
  #runs: CountRun[] = [];

  add(run: CountRun): void {
    this.#runs.push(run);
    for (;;) {
      const [before, last] = this.#runs.slice(-2);
      if (!before || !last || before.keys.length > ALIKE * last.keys.length) return;
      this.#runs.splice(-2, 2, merged(before, last));
    }
  }

  /** All counts, each number once. */
  sum(): CountRun {
    while (this.#runs.length > 1) this.#runs.push(merged(this.#runs.pop() as CountRun, this.#runs.pop() as CountRun));
    return this.#runs[0] ?? { keys: new Float64Array(0), counts: new Float64Array(0) };
  }

  /** Forgets what it has, and goes on from the run. */
  replace(run: CountRun): void {
    this.#runs = [run];
  }

  /** How many counts it holds, some of them under the same numbers. */
  get size(): number {
    return this.#runs.reduce((sum, { keys }) => sum + keys.length, 0);
  }
}

function merged(a: CountRun, b: CountRun): CountRun {
  const [left, right] = [a.keys, b.keys];
  const keys = new Float64Array(left.length + right.length);
  const counts = new Float64Array(keys.length);
  let at = 0;
  let from = 0;
  let other = 0;
  while (from < left.length && other < right.length) {
    const x = left[from] as number;
    const y = right[other] as number;
    if (x < y) {
      keys[at] = x;
      counts[at++] = a.counts[from++] as number;
    } else if (y < x) {
      keys[at] = y;
      counts[at++] = b.counts[other++] as number;
    } else {
      keys[at] = x;
      counts[at++] = (a.counts[from++] as number) + (b.counts[other++] as number);
    }
  }
  const [rest, start] = from < left.length ? [a, from] : [b, other];
  keys.set(rest.keys.subarray(start), at);
  counts.set(rest.counts.subarray(start), at);
  at += rest.keys.length - start;
  return { keys: keys.subarray(0, at), counts: counts.subarray(0, at) };
}
