import { xoroshiro128plus } from 'pure-rand';

/** Numbers from a seed: the same seed gives the same ones. */
export class Random {
  readonly #source;

  constructor(seed: number) {
    this.#source = xoroshiro128plus(seed);
  }

  /** A whole number of 32 bits. */
  word(): number {
    return this.#source.unsafeNext() >>> 0;
  }

  /** A whole number from 0 up to `below`, which is not included. */
  below(below: number): number {
    return Math.floor((this.word() / 2 ** 32) * below);
  }

  /** As `below`, the smaller the more often: the first hundredth comes up a tenth of the time. */
  skewed(below: number): number {
    return Math.floor((this.word() / 2 ** 32) ** 2 * below);
  }

  choose<T>(values: readonly T[]): T {
    return values[this.below(values.length)] as T;
  }

  chance(part: number): boolean {
    return this.word() / 2 ** 32 < part;
  }
}
