import { WordTable } from '../../column/index.js';
import type { Kernel } from '../../kernel/index.js';
import type { ClassSpace } from './class-space.js';
import type { KernelColumn, KernelRows } from './kernel-rows.js';

/** Larger tables of pairs are kept as maps, so that memory stays bounded. */
const MOST_PAIRS = 2 ** 24;
/** About what a pair in a map takes, in 32-bit words. */
export const FAR_WORDS = 12;
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
  /** A pointer to the table in the kernel, which has a row for each left class. */
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

  /** How many 32-bit words of memory its classes and pairs take. */
  get size(): number {
    return this.#table.rows.length + this.#width * this.#height + this.#far.size * FAR_WORDS;
  }

  mark(number: number): number {
    return this.#table.rows[number * this.stride + 2 * this.#words] as number;
  }

  /** The classes of the pairs in two columns. */
  cross(left: KernelColumn, right: KernelColumn, kernelRows: KernelRows): KernelColumn {
    const { kernel } = kernelRows;
    if (left.codes !== right.codes || left.classes === 0 || right.classes === 0) {
      const into = kernelRows.take();
      this.#cross(kernel, left, right, kernelRows.count, into);
      return { codes: into, classes: 0, count: 0 };
    }
    // Both sides share codes, so the product is computed once a code; no row is touched.
    const count = Math.min(left.count, right.count);
    const into = kernel.take(count * 4);
    const [lefts, rights] = [left, right].map(({ classes }) => ({ codes: classes, classes: 0, count: 0 }));
    this.#cross(kernel, lefts as KernelColumn, rights as KernelColumn, count, into);
    return { codes: left.codes, classes: into, count };
  }

  #cross(kernel: Kernel, left: KernelColumn, right: KernelColumn, count: number, into: number): void {
    this.#reserve(kernel);
    // Nothing is allocated from here on, so that the memory stays where it is.
    const memory = kernel.memory();
    const [pairs, width] = [this.#pairs, this.#width];
    for (let row = 0; row < count; row++) {
      if (width > 0)
        row = kernel.calls.cross(left.codes, left.classes, right.codes, right.classes, pairs, width, row, count, into);
      if (row === count) break;
      memory[into / 4 + row] = this.#pair(classIn(memory, left, row), classIn(memory, right, row), memory);
    }
  }

  /** Gives the memory of the table back. */
  release(kernel: Kernel): void {
    if (this.#width > 0) kernel.calls.release(this.#pairs);
    this.#width = 0;
    this.#height = 0;
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
      return;
    }
    const pointer = kernel.calls.allocate(Math.max(16, wider * higher * 4));
    const pairs = kernel.ints(pointer, wider * higher).fill(UNKNOWN);
    if (before !== undefined) {
      const old = kernel.ints(before, this.#width * this.#height);
      for (let row = 0; row < this.#height; row++)
        pairs.set(old.subarray(row * this.#width, (row + 1) * this.#width), row * wider);
      kernel.calls.release(before);
    }
    this.#width = wider;
    this.#height = higher;
    this.#pairs = pointer;
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

function classIn(memory: Int32Array, { codes, classes }: KernelColumn, row: number): number {
  const code = memory[codes / 4 + row] as number;
  return classes === 0 ? code : (memory[classes / 4 + code] as number);
}
