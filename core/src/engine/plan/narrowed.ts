import type { ClassSpace } from './class-space.js';
import { WordTable } from './intern.js';

const UNKNOWN = -1;

/** The classes of a source as far as one group of clauses goes: those that are alike to the group are one. */
export class Narrowed implements ClassSpace {
  readonly stride: number;
  readonly #from: ClassSpace;
  readonly #words: number;
  /** The words in which the group has clauses, and which clauses these are. */
  readonly #places: readonly number[];
  readonly #clauses: Uint32Array;
  readonly #table: WordTable;
  readonly #scratch: Uint32Array;
  /** By the source's own class. */
  #numbers = new Int32Array(64).fill(UNKNOWN);

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

  rows(classes: Int32Array, count: number, into: Int32Array): void {
    this.#reserve();
    const numbers = this.#numbers;
    for (let at = 0; at < count; at++) {
      const known = numbers[classes[at] as number] as number;
      into[at] = known === UNKNOWN ? this.#make(classes[at] as number) : known;
    }
  }

  #reserve(): void {
    if (this.#from.count <= this.#numbers.length) return;
    const larger = new Int32Array(this.#from.count * 2).fill(UNKNOWN);
    larger.set(this.#numbers);
    this.#numbers = larger;
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
    const made = this.#table.number(this.#scratch);
    this.#numbers[number] = made;
    return made;
  }
}
