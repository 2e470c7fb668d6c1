import { type RandomGenerator, xoroshiro128plus } from 'pure-rand';
import type { Weighted } from './cast.js';

/** Random choices from a seed: the same seed makes the same choices on every machine. */
export class Dice {
  readonly #generator: RandomGenerator;
  readonly #totals = new WeakMap<Weighted<unknown>, number>();

  constructor(seed: number) {
    this.#generator = xoroshiro128plus(seed);
  }

  /** A whole number from 0 up to, and not including, `end`. */
  below(end: number): number {
    // A remainder favours low numbers by less than one in a million here, and costs a tenth of an exact choice.
    return (this.#generator.unsafeNext() >>> 0) % end;
  }

  /** A fraction from 0 up to, and not including, 1. */
  fraction(): number {
    return this.below(1 << 24) / (1 << 24);
  }

  pick<T>(from: readonly T[]): T {
    return from[this.below(from.length)] as T;
  }

  choose<T>(from: Weighted<T>): T {
    let total = this.#totals.get(from);
    if (total === undefined) {
      total = from.reduce((sum, [weight]) => sum + weight, 0);
      this.#totals.set(from, total);
    }
    let left = this.below(total);
    for (const [weight, value] of from) {
      if (left < weight) return value;
      left -= weight;
    }
    throw new Error('weights are whole numbers above zero');
  }

  /** Some values come often and most come rarely: the square of a fraction, spread over `end`. */
  skewed(end: number): number {
    return Math.floor(this.fraction() ** 2 * end);
  }
}
