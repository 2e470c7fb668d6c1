import { TextMap } from '../column/index.js';

/** How many keys would be over at a threshold. */
export interface CurvePoint {
  readonly moreThan: number;
  readonly keys: number;
}

/** More keys than this are not kept by their peaks. */
const MOST_KEYS = 200_000;
/** Steps within a power of ten. */
const STEPS = [1, 1.5, 2, 3, 5, 7];

/** Keeps the highest sum that each key reached, over or not, so that a threshold can be chosen by it. */
export class KeyPeaks {
  readonly #peaks = new TextMap<number>();
  #beyond = 0;

  /** Answers whether there was room for the key. */
  note(key: string, sum: number): boolean {
    const known = this.#peaks.get(key);
    if (known === undefined && this.#peaks.size >= MOST_KEYS) {
      this.#beyond++;
      return false;
    }
    if (known === undefined || sum > known) this.#peaks.set(key, sum);
    return true;
  }

  /** How often a key found no room, so that the curve is of some keys only. */
  get beyond(): number {
    return this.#beyond;
  }

  /** The curve at round thresholds from 0 up to the highest peak, and at the one given. */
  curve(given: number): CurvePoint[] {
    const peaks = Float64Array.from(this.#peaks.values()).sort();
    const highest = peaks.at(-1) ?? 0;
    const thresholds = new Set([0, given]);
    for (let power = 1; power <= highest; power *= 10)
      for (const step of STEPS) if (Number.isInteger(step * power)) thresholds.add(step * power);
    const shown = [...thresholds].sort((a, b) => a - b);
    const points = shown.map((moreThan) => ({ moreThan, keys: peaks.length - upTo(peaks, moreThan) }));
    // Above the first threshold that nobody reaches only the given one is shown.
    const end = points.findIndex(({ keys }) => keys === 0);
    return points.filter(({ moreThan }, at) => end < 0 || at <= end || moreThan === given);
  }
}

/** How many of the sorted values are at most the limit. */
function upTo(sorted: Float64Array, limit: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] as number) <= limit) low = middle + 1;
    else high = middle;
  }
  return low;
}
