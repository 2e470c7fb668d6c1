import { WordTable } from '../../column/index.js';
import type { Axis } from './axis.js';
import type { ClassSpace } from './class-space.js';

/** The terms of one axis that a value matches, and those that cannot be judged; undefined: the field is unseen. */
export type Matched = { readonly matched: readonly number[]; readonly unsure?: readonly number[] } | undefined;

/**
 * Numbers the classes of a source's values: values of one class are alike to every clause. For each of its axes a class
 * has two vectors, of the clauses that hold and of those that may.
 */
export class ClassTable implements ClassSpace {
  readonly axes: readonly Axis[];
  readonly #words: number;
  readonly #table: WordTable;
  readonly #scratch: Uint32Array;
  /** The vectors of the scratch row, two for each axis. */
  readonly #views: readonly Uint32Array[];
  #combined: Uint32Array;
  #filled = 0;
  readonly #marks: number[] = [];

  constructor(axes: readonly Axis[], words: number) {
    this.axes = axes;
    this.#words = words;
    this.#table = new WordTable(axes.length * 2 * words);
    this.#scratch = new Uint32Array(axes.length * 2 * words);
    this.#views = Array.from({ length: axes.length * 2 }, (_, at) =>
      this.#scratch.subarray(at * words, (at + 1) * words),
    );
    this.#combined = new Uint32Array(16 * 2 * words);
  }

  get stride(): number {
    return 2 * this.#words;
  }

  get count(): number {
    return this.#table.count;
  }

  /** The class of a value, given what it does to each axis. */
  number(matched: readonly Matched[]): number {
    const words = this.#words;
    const scratch = this.#scratch;
    for (let at = 0; at < scratch.length; at++) scratch[at] = 0xffffffff;
    for (let at = 0; at < this.axes.length; at++) {
      const axis = this.axes[at] as Axis;
      const match = this.#views[at * 2] as Uint32Array;
      const possible = this.#views[at * 2 + 1] as Uint32Array;
      const found = matched[at];
      if (found === undefined) axis.narrowUnseen(match);
      else axis.narrow(match, possible, found.matched, found.unsure);
    }
    const number = this.#table.number(this.#scratch);
    if (number * 2 * words === this.#filled) {
      this.#combine();
      this.#marks.push(markOf(number, matched));
    }
    return number;
  }

  /**
   * For each class the clauses that hold on all axes together, then those that may. It is replaced when classes are
   * added, so it is not to be kept.
   */
  get combined(): Uint32Array {
    return this.#combined;
  }

  /** What is unseen in the class: two classes with the same mark have the same unseen axes. */
  mark(number: number): number {
    return this.#marks[number] as number;
  }

  /** Adds the scratch row, with its axes intersected. */
  #combine(): void {
    const words = this.#words;
    if (this.#filled + 2 * words > this.#combined.length) {
      const larger = new Uint32Array(this.#combined.length * 2);
      larger.set(this.#combined);
      this.#combined = larger;
    }
    for (let at = 0; at < 2 * words; at++) {
      let word = 0xffffffff;
      for (let axis = 0; axis < this.axes.length; axis++) word &= this.#scratch[axis * 2 * words + at] as number;
      this.#combined[this.#filled + at] = word;
    }
    this.#filled += 2 * words;
  }

  /**
   * Clears in both vectors what the class rules out. `live` has the first `count` words of `possible` that are not 0; those
   * that become 0 are taken out. Answers how many are left.
   */
  narrow(number: number, match: Uint32Array, possible: Uint32Array, live: Uint32Array, count: number): number {
    const words = this.#words;
    const combined = this.#combined;
    const from = number * 2 * words;
    let kept = 0;
    for (let place = 0; place < count; place++) {
      const at = live[place] as number;
      const word = (possible[at] as number) & (combined[from + words + at] as number);
      possible[at] = word;
      match[at] = (match[at] as number) & (combined[from + at] as number);
      if (word !== 0) live[kept++] = at;
    }
    return kept;
  }

  /** Whether it is unseen if the clause holds for the class, by the axis of that number. */
  isUnseen(number: number, axis: number, clause: number): boolean {
    const from = number * this.#table.width + axis * 2 * this.#words + (clause >> 5);
    const bit = 1 << (clause & 31);
    const match = (this.#table.rows[from] as number) & bit;
    const possible = (this.#table.rows[from + this.#words] as number) & bit;
    return match === 0 && possible !== 0;
  }
}

const MOST_AXES = 16;

/** A bit for each unseen axis. A partly unseen axis depends on the value, so the class becomes part of the mark. */
function markOf(number: number, matched: readonly Matched[]): number {
  let mark = 0;
  matched.forEach((each, axis) => {
    if (each === undefined) mark |= 1 << (axis % MOST_AXES);
  });
  const partly =
    matched.length > MOST_AXES || matched.some((each) => each?.unsure !== undefined && each.unsure.length > 0);
  return partly ? (number + 1) * 2 ** MOST_AXES + mark : mark;
}
