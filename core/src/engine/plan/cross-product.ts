import { WordTable } from '../../column/index.js';
import type { Kernel } from '../../kernel/index.js';
import type { ClassSpace } from './class-space.js';
import type { PlacedRows } from './placed-rows.js';

/** Larger tables of pairs are kept as maps, so that memory stays bounded. */
const MOST_PAIRS = 2 ** 24;
const UNKNOWN = -1;

/** The classes of rows in the kernel: each row's own, or those of codes; 0: the codes are the classes. */
export interface PlacedColumn {
  readonly codes: number;
  readonly classes: number;
}

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
  /** The place of the table in the kernel: a row of it for each left class. */
  #pairs = 0;
  /** How many classes of the right and of the left side it has room for; 0: there is no table. */
  #width = 0;
  #height = 0;
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

  /** The classes of the pairs in two columns, at a place of the kernel. */
  rows(left: PlacedColumn, right: PlacedColumn, placed: PlacedRows): number {
    const { kernel, count } = placed;
    this.#reserve(kernel);
    const into = placed.take();
    // Nothing is allocated from here on, so that the memory stays where it is.
    const memory = kernel.memory();
    const [pairs, width] = [this.#pairs, this.#width];
    for (let row = 0; row < count; row++) {
      if (width > 0)
        row = kernel.calls.cross(left.codes, left.classes, right.codes, right.classes, pairs, width, row, count, into);
      if (row === count) break;
      const a = classIn(memory, left, row);
      const b = classIn(memory, right, row);
      memory[into / 4 + row] = this.#pair(a, b, memory);
    }
    return into;
  }

  /** The classes of the pairs of two columns with the same codes, code by code. */
  codes(left: Int32Array, right: Int32Array, kernel: Kernel): Int32Array {
    this.#reserve(kernel);
    const memory = kernel.memory();
    const both = new Int32Array(left.length);
    for (let code = 0; code < both.length; code++)
      both[code] = this.#pair(left[code] as number, right[code] as number, memory);
    return both;
  }

  /** Gives the memory of the table back. */
  release(kernel: Kernel): void {
    if (this.#width > 0) kernel.calls.release(this.#pairs);
    this.#width = 0;
  }

  #pair(left: number, right: number, memory: Int32Array): number {
    if (this.#width > 0) {
      const place = this.#pairs / 4 + left * this.#width + right;
      if (memory[place] === UNKNOWN) memory[place] = this.#make(left, right);
      return memory[place] as number;
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
  #reserve(kernel: Kernel): void {
    const [rows, width] = [this.#left.count, this.#right.count];
    if (width <= this.#width && rows <= this.#height) return;
    const wider = 2 ** Math.ceil(Math.log2(Math.max(width, 1)));
    const higher = 2 ** Math.ceil(Math.log2(Math.max(rows, 1)));
    const before = this.#width === 0 ? undefined : this.#pairs;
    if (wider * higher > MOST_PAIRS) {
      this.release(kernel);
      this.#height = 0;
      return;
    }
    const place = kernel.calls.allocate(Math.max(16, wider * higher * 4));
    const pairs = kernel.ints(place, wider * higher).fill(UNKNOWN);
    if (before !== undefined) {
      const old = kernel.ints(before, this.#width * this.#height);
      for (let row = 0; row < this.#height; row++)
        pairs.set(old.subarray(row * this.#width, (row + 1) * this.#width), row * wider);
      kernel.calls.release(before);
    }
    this.#width = wider;
    this.#height = higher;
    this.#pairs = place;
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

function classIn(memory: Int32Array, { codes, classes }: PlacedColumn, row: number): number {
  const code = memory[codes / 4 + row] as number;
  return classes === 0 ? code : (memory[classes / 4 + code] as number);
}
