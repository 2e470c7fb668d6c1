import type { Codes } from '../../column/index.js';

/** Tests rows of a chunk many at a time; each kind goes through them in a loop of its own. */
export interface RowTest {
  /** Keeps those of the first `count` rows that hold, in front and in order; answers how many they are. */
  keep(rows: Uint32Array, count: number): number;
}

/** Rows whose code is wanted: each distinct value was looked at once. */
export class CodeTest implements RowTest {
  readonly #codes: Codes | Int32Array;
  readonly #wanted: Uint8Array;

  /** `wanted` is 1 at the codes that are. */
  constructor(codes: Codes | Int32Array, wanted: Uint8Array) {
    this.#codes = codes;
    this.#wanted = wanted;
  }

  keep(rows: Uint32Array, count: number): number {
    const codes = this.#codes;
    const wanted = this.#wanted;
    let kept = 0;
    for (let at = 0; at < count; at++) {
      const row = rows[at] as number;
      if (wanted[codes[row] as number] === 1) rows[kept++] = row;
    }
    return kept;
  }
}

/** Rows whose number lies from `least` to before `below`. */
export class SpanTest implements RowTest {
  readonly #values: Float64Array;
  readonly #least: number;
  readonly #below: number;

  constructor(values: Float64Array, least: number, below: number) {
    this.#values = values;
    this.#least = least;
    this.#below = below;
  }

  keep(rows: Uint32Array, count: number): number {
    const values = this.#values;
    const least = this.#least;
    const below = this.#below;
    let kept = 0;
    for (let at = 0; at < count; at++) {
      const row = rows[at] as number;
      const value = values[row] as number;
      if (value >= least && value < below) rows[kept++] = row;
    }
    return kept;
  }
}

/** Rows whose number is not seen. */
export class UnseenTest implements RowTest {
  readonly #values: Float64Array;

  constructor(values: Float64Array) {
    this.#values = values;
  }

  keep(rows: Uint32Array, count: number): number {
    let kept = 0;
    for (let at = 0; at < count; at++) {
      const row = rows[at] as number;
      if (Number.isNaN(this.#values[row])) rows[kept++] = row;
    }
    return kept;
  }
}

/** This many rows are tested in one pass: enough to be quick, and few enough that a page wastes little. */
const AT_ONCE = 4096;

/** The rows from `from` to before `to` that pass all tests, in order and at most `most`. */
export function rowsThatHold(tests: readonly RowTest[], from: number, to: number, most: number): number[] {
  const found: number[] = [];
  const some = new Uint32Array(AT_ONCE);
  for (let start = from; start < to && found.length < most; start += AT_ONCE) {
    let count = Math.min(AT_ONCE, to - start);
    for (let at = 0; at < count; at++) some[at] = start + at;
    for (const test of tests) count = test.keep(some, count);
    count = Math.min(count, most - found.length);
    for (let at = 0; at < count; at++) found.push(some[at] as number);
  }
  return found;
}
