import { WordTable } from '../../column/index.js';
import type { ClassColumn } from './class-column.js';
import type { ClassSpace } from './class-space.js';

/** Larger tables of pairs are kept as maps, so that memory stays bounded. */
const MOST_PAIRS = 2 ** 24;
const UNKNOWN = -1;

/**
 * A cross-product table: numbers the pairs of two classes by the clauses that both leave. Each pair is computed once
 * and is one look-up after that. Pairs that leave the same clauses share a number, so a row passes through a few small
 * tables, whatever the number of rules (recursive flow classification: Gupta and McKeown, "Packet Classification on
 * Multiple Fields", SIGCOMM 1999).
 */
export class CrossProduct implements ClassSpace {
  readonly #left: ClassSpace;
  readonly #right: ClassSpace;
  readonly #words: number;
  readonly #table: WordTable;
  readonly #scratch: Uint32Array;
  readonly #marks = new Map<string, number>();
  #pairs = new Int32Array(0);
  #width = 0;
  readonly #far = new Map<number, number>();

  constructor(left: ClassSpace, right: ClassSpace, words: number) {
    this.#left = left;
    this.#right = right;
    this.#words = words;
    this.#table = new WordTable(2 * words + 1);
    this.#scratch = new Uint32Array(2 * words + 1);
  }

  get count(): number {
    return this.#table.count;
  }

  get combined(): Uint32Array {
    return this.#table.rows;
  }

  /** In 32-bit words: two vectors, and the mark behind them. */
  get stride(): number {
    return 2 * this.#words + 1;
  }

  mark(number: number): number {
    return this.#table.rows[number * this.stride + 2 * this.#words] as number;
  }

  /** The classes of the pairs in two columns of `count` rows; `into` may be the codes of the left one. */
  rows(left: ClassColumn, right: ClassColumn, count: number, into: Uint32Array): void {
    this.#reserve();
    if (left.classes && right.classes) this.#both(left.codes, left.classes, right.codes, right.classes, count, into);
    else if (left.classes) this.#onLeft(left.codes, left.classes, right.codes, count, into);
    else if (right.classes) this.#onRight(left.codes, right.codes, right.classes, count, into);
    else this.#plain(left.codes, right.codes, count, into);
  }

  /** The classes of the pairs of two columns with the same codes, code by code. */
  codes(left: Int32Array, right: Int32Array): Int32Array {
    this.#reserve();
    const both = new Int32Array(left.length);
    for (let code = 0; code < both.length; code++) both[code] = this.#pair(left[code] as number, right[code] as number);
    return both;
  }

  // Four loops that differ in which side has codes: each does only what its rows need.

  #both(
    left: Uint32Array,
    ofLeft: Int32Array,
    right: Uint32Array,
    ofRight: Int32Array,
    count: number,
    to: Uint32Array,
  ) {
    const pairs = this.#pairs;
    const width = this.#width;
    for (let at = 0; at < count; at++) {
      const a = ofLeft[left[at] as number] as number;
      const b = ofRight[right[at] as number] as number;
      const known = width === 0 ? UNKNOWN : (pairs[a * width + b] as number);
      to[at] = known === UNKNOWN ? this.#pair(a, b) : known;
    }
  }

  #onLeft(left: Uint32Array, ofLeft: Int32Array, right: Uint32Array, count: number, into: Uint32Array) {
    const pairs = this.#pairs;
    const width = this.#width;
    for (let at = 0; at < count; at++) {
      const a = ofLeft[left[at] as number] as number;
      const b = right[at] as number;
      const known = width === 0 ? UNKNOWN : (pairs[a * width + b] as number);
      into[at] = known === UNKNOWN ? this.#pair(a, b) : known;
    }
  }

  #onRight(left: Uint32Array, right: Uint32Array, ofRight: Int32Array, count: number, into: Uint32Array) {
    const pairs = this.#pairs;
    const width = this.#width;
    for (let at = 0; at < count; at++) {
      const a = left[at] as number;
      const b = ofRight[right[at] as number] as number;
      const known = width === 0 ? UNKNOWN : (pairs[a * width + b] as number);
      into[at] = known === UNKNOWN ? this.#pair(a, b) : known;
    }
  }

  #plain(left: Uint32Array, right: Uint32Array, count: number, into: Uint32Array) {
    const pairs = this.#pairs;
    const width = this.#width;
    for (let at = 0; at < count; at++) {
      const a = left[at] as number;
      const b = right[at] as number;
      const known = width === 0 ? UNKNOWN : (pairs[a * width + b] as number);
      into[at] = known === UNKNOWN ? this.#pair(a, b) : known;
    }
  }

  #pair(left: number, right: number): number {
    if (this.#width > 0) {
      const place = left * this.#width + right;
      let number = this.#pairs[place] as number;
      if (number === UNKNOWN) {
        number = this.#make(left, right);
        this.#pairs[place] = number;
      }
      return number;
    }
    const key = left * 2 ** 26 + right;
    let number = this.#far.get(key);
    if (number === undefined) {
      number = this.#make(left, right);
      this.#far.set(key, number);
    }
    return number;
  }

  /** Grows the table to all pairs of the classes known by now. */
  #reserve(): void {
    const [rows, width] = [this.#left.count, this.#right.count];
    if (width <= this.#width && rows * this.#width <= this.#pairs.length) return;
    const wider = 2 ** Math.ceil(Math.log2(Math.max(width, 1)));
    const higher = 2 ** Math.ceil(Math.log2(Math.max(rows, 1)));
    if (wider * higher > MOST_PAIRS) {
      this.#width = 0;
      this.#pairs = new Int32Array(0);
      return;
    }
    const pairs = new Int32Array(wider * higher).fill(UNKNOWN);
    for (let row = 0; row * this.#width < this.#pairs.length && this.#width > 0; row++)
      pairs.set(this.#pairs.subarray(row * this.#width, (row + 1) * this.#width), row * wider);
    this.#width = wider;
    this.#pairs = pairs;
  }

  #make(left: number, right: number): number {
    const scratch = this.#scratch;
    const { combined: ofLeft } = this.#left;
    const { combined: ofRight } = this.#right;
    const fromLeft = left * this.#left.stride;
    const fromRight = right * this.#right.stride;
    let unsure = 0;
    for (let at = 0; at < 2 * this.#words; at++)
      scratch[at] = (ofLeft[fromLeft + at] as number) & (ofRight[fromRight + at] as number);
    for (let at = 0; at < this.#words; at++) unsure |= (scratch[at] as number) ^ (scratch[this.#words + at] as number);
    scratch[2 * this.#words] = unsure === 0 ? 0 : this.#markOf(this.#left.mark(left), this.#right.mark(right));
    return this.#table.number(scratch);
  }

  #markOf(left: number, right: number): number {
    const key = `${left} ${right}`;
    const known = this.#marks.get(key) ?? this.#marks.size + 1;
    this.#marks.set(key, known);
    return known;
  }
}
