import { type Address, compareWordsAt, type Intervals, searchFour, searchSix } from '../address/index.js';

/**
 * Intervals with their codes, laid out for look-ups: the start, the end and the code of an interval lie side by side,
 * so that a look-up ends with one walk to memory instead of three.
 */
export class CountryTable {
  readonly #records: Uint32Array;
  readonly #intervals: Intervals;
  /** The words of an address. */
  readonly #width: 1 | 4;

  /** `codes` has a number for each interval. */
  constructor(intervals: Intervals, codes: Uint16Array) {
    const width = intervals.family === 4 ? 1 : 4;
    const { starts, ends, count } = intervals;
    const records = new Uint32Array(count * (2 * width + 1));
    for (let index = 0, at = 0; index < count; index++) {
      for (let word = 0; word < width; word++) records[at++] = starts[index * width + word] as number;
      for (let word = 0; word < width; word++) records[at++] = ends[index * width + word] as number;
      records[at++] = codes[index] as number;
    }
    this.#records = records;
    this.#intervals = intervals;
    this.#width = width;
  }

  /** The index of the interval that holds the address, which must be of its family; -1 for none. */
  find(address: Address): number {
    return address.family === 4
      ? this.#findFour(address.value)
      : this.#findSix(address.words[0], address.words[1], address.words[2], address.words[3]);
  }

  /** The number of the interval's code. */
  code(index: number): number {
    const size = 2 * this.#width + 1;
    return this.#records[(index + 1) * size - 1] as number;
  }

  #findFour(value: number): number {
    const records = this.#records;
    const { directory, count } = this.#intervals;
    const at = searchFour(records, 3, directory, count, value);
    return at >= 0 && value <= (records[at * 3 + 1] as number) ? at : -1;
  }

  #findSix(a: number, b: number, c: number, d: number): number {
    const records = this.#records;
    const { directory, count } = this.#intervals;
    const at = searchSix(records, 9, directory, count, a, b, c, d);
    return at >= 0 && compareWordsAt(records, at * 9 + 4, a, b, c, d) >= 0 ? at : -1;
  }
}
