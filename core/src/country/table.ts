import type { Address, Intervals } from '../address/index.js';

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
    if (count === 0 || value < directory.base) return -1;
    const part = (value - directory.base) >>> directory.shift;
    const inside = part < directory.first.length - 1;
    let low = inside ? (directory.first[part] as number) - 1 : count - 1;
    let high = inside ? (directory.first[part + 1] as number) - 1 : count - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((records[middle * 3] as number) <= value) low = middle;
      else high = middle - 1;
    }
    return low >= 0 && value <= (records[low * 3 + 1] as number) ? low : -1;
  }

  #findSix(a: number, b: number, c: number, d: number): number {
    const records = this.#records;
    const { directory, count } = this.#intervals;
    if (count === 0 || a < directory.base) return -1;
    const part = (a - directory.base) >>> directory.shift;
    const inside = part < directory.first.length - 1;
    let low = inside ? (directory.first[part] as number) - 1 : count - 1;
    let high = inside ? (directory.first[part + 1] as number) - 1 : count - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (compareAt(records, middle * 9, a, b, c, d) <= 0) low = middle;
      else high = middle - 1;
    }
    return low >= 0 && compareAt(records, low * 9 + 4, a, b, c, d) >= 0 ? low : -1;
  }
}

function compareAt(records: Uint32Array, at: number, a: number, b: number, c: number, d: number): number {
  if (records[at] !== a) return (records[at] as number) < a ? -1 : 1;
  if (records[at + 1] !== b) return (records[at + 1] as number) < b ? -1 : 1;
  if (records[at + 2] !== c) return (records[at + 2] as number) < c ? -1 : 1;
  return (records[at + 3] as number) - d;
}
