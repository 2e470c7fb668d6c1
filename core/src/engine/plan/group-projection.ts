import { WordTable } from '../../column/index.js';
import type { ClassSpace } from './class-space.js';

/** Projects the classes of a source onto one group of clauses: classes that are the same to the group become one. */
export class GroupProjection implements ClassSpace {
  readonly stride: number;
  readonly #from: ClassSpace;
  readonly #words: number;
  /** The words in which the group has clauses, and which clauses these are. */
  readonly #places: readonly number[];
  readonly #clauses: Uint32Array;
  readonly #table: WordTable;
  readonly #scratch: Uint32Array;
  /** By the source's own class. */
  #numbers = new Int32Array(64);
  #known = 0;

  constructor(from: ClassSpace, clauses: Uint32Array) {
    this.#from = from;
    this.#words = clauses.length;
    this.#clauses = clauses;
    this.#places = [...clauses.keys()].filter((at) => clauses[at] !== 0);
    this.stride = 2 * this.#places.length + 1;
    this.#table = new WordTable(this.stride);
    this.#scratch = new Uint32Array(this.stride);
  }

  /** The words of a vector of the group. */
  get words(): number {
    return this.#places.length;
  }

  get count(): number {
    return this.#table.count;
  }

  get combined(): Uint32Array {
    return this.#table.rows;
  }

  mark(number: number): number {
    return this.#table.rows[(number + 1) * this.stride - 1] as number;
  }

  /** For each class of the source the class of the group. */
  numbers(): Int32Array {
    const { count } = this.#from;
    if (count > this.#numbers.length) {
      const larger = new Int32Array(count * 2);
      larger.set(this.#numbers);
      this.#numbers = larger;
    }
    while (this.#known < count) this.#numbers[this.#known] = this.#make(this.#known++);
    return this.#numbers;
  }

  #make(number: number): number {
    const places = this.#places;
    const { combined } = this.#from;
    const from = number * this.#from.stride;
    let unsure = 0;
    for (let at = 0; at < places.length; at++) {
      const place = places[at] as number;
      const clauses = this.#clauses[place] as number;
      const match = (combined[from + place] as number) & clauses;
      const possible = (combined[from + this.#words + place] as number) & clauses;
      this.#scratch[at] = match;
      this.#scratch[places.length + at] = possible;
      unsure |= match ^ possible;
    }
    this.#scratch[2 * places.length] = unsure === 0 ? 0 : this.#from.mark(number);
    return this.#table.number(this.#scratch);
  }
}
