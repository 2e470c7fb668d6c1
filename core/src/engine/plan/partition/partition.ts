import {
  type Address,
  type AddressSet,
  findInterval,
  type Intervals,
  intervalsOf,
  lastStartFour,
  lastStartSix,
  lastStartsFour,
  specialPurpose,
} from '../../../address/index.js';
import { WordTable } from '../../../column/index.js';
import type { CountryData, CountrySources } from '../../../country/index.js';
import { type Edges, edgesFour, edgesSix } from './edges.js';

/**
 * The address space in classes: addresses of one class are in the same sets and in the same country. One search finds
 * the class of an address, however many sets there are.
 */
export interface Partition {
  readonly classOf: (address: Address) => number;
  /** The classes of IPv4 addresses, in `into` from `from` on; fastest where they are in order. */
  readonly classesOfFour: (values: Uint32Array, into: Int32Array, from: number) => void;
  readonly classOfSix: (a: number, b: number, c: number, d: number) => number;
  readonly classes: readonly AddressClass[];
  /** How many elementary intervals there are, of both families. */
  readonly intervals: number;
}

export interface AddressClass {
  /** The numbers of the sets that hold it. */
  readonly sets: readonly number[];
  /** A code, `private`, `unknown`, or undefined where it cannot be told. */
  readonly country: string | undefined;
}

/** Merges the sets and, where they are given, the countries. It does not depend on rules, only on what they speak of. */
export function partition(sets: readonly AddressSet[], country?: CountrySources): Partition {
  const classes = new Classes();
  const four = cut(4, sets, country, classes);
  const six = cut(6, sets, country, classes);
  // The intervals leave nothing out, so that what starts last before an address holds it.
  const classOfFour = (value: number) => four.classes[lastStartFour(four.intervals, value)] as number;
  const classesOfFour = (values: Uint32Array, into: Int32Array, from: number) => {
    lastStartsFour(four.intervals, values, into, from);
    for (let at = from; at < from + values.length; at++) into[at] = four.classes[into[at] as number] as number;
  };
  const classOfSix = (a: number, b: number, c: number, d: number) =>
    six.classes[lastStartSix(six.intervals, a, b, c, d)] as number;
  const classOf = (address: Address) =>
    address.family === 4 ? classOfFour(address.value) : classOfSix(...address.words);
  return {
    classOf,
    classesOfFour,
    classOfSix,
    classes: classes.all,
    intervals: four.classes.length + six.classes.length,
  };
}

interface Side {
  readonly intervals: Intervals;
  readonly classes: Int32Array;
}

function cut(family: 4 | 6, sets: readonly AddressSet[], country: CountrySources | undefined, classes: Classes): Side {
  const sideOf = <T>(both: { readonly four: T; readonly six: T }): T => (family === 4 ? both.four : both.six);
  const own = sets.map(sideOf);
  const foreign = country === undefined ? [] : [sideOf(specialPurpose), ...countryIntervals(country, sideOf)];
  const edges = family === 4 ? edgesFour([...own, ...foreign]) : edgesSix([...own, ...foreign]);
  const countries = countriesOf(edges, country, sideOf, classes);
  const numbers = classify(edges, own, countries, classes);
  return joined(family, edges, numbers);
}

const countryIntervals = (
  { data, corrections }: CountrySources,
  sideOf: <T>(both: { four: T; six: T }) => T,
): Intervals[] => [data, corrections].flatMap((each) => (each ? [sideOf(each).intervals] : []));

const NOT_TOLD = -1;

/** The number of each elementary interval's country. What comes later in the order of precedence is written over. */
function countriesOf(
  edges: Edges,
  country: CountrySources | undefined,
  sideOf: <T>(both: { four: T; six: T }) => T,
  classes: Classes,
): Int32Array {
  const found = new Int32Array(edges.count).fill(NOT_TOLD);
  const write = (intervals: Intervals, numberOf: (index: number) => number) => {
    for (let index = 0; index < intervals.count; index++)
      fill(found, numberOf(index), edges.startOf(intervals, index), edges.endOf(intervals, index));
  };
  const writeData = (data: CountryData) => {
    const { intervals, table, names } = sideOf(data);
    const numbers = names.map((name) => classes.country(name));
    write(intervals, (index) => numbers[table.code(index)] as number);
  };
  if (country?.data) {
    found.fill(classes.country('unknown'));
    const special = classes.country('private');
    write(sideOf(specialPurpose), () => special);
    writeData(country.data);
  }
  if (country?.corrections) writeData(country.corrections);
  return found;
}

/** Most runs are short, and a loop over those is faster than to call for them. */
function fill(numbers: Int32Array, number: number, from: number, to: number): void {
  for (let at = from; at < to; at++) numbers[at] = number;
}

/** The class of each elementary interval. */
function classify(edges: Edges, sets: readonly Intervals[], countries: Int32Array, classes: Classes): Int32Array {
  // At each edge the marks of the sets that begin or end there; what is summed up so far is the mark of all that hold.
  const low = new Int32Array(edges.count + 1);
  const high = new Int32Array(edges.count + 1);
  sets.forEach((intervals, number) => {
    const [markLow, markHigh] = markOf(number);
    for (let index = 0; index < intervals.count; index++) {
      const [start, end] = [edges.startOf(intervals, index), edges.endOf(intervals, index)];
      low[start] = (low[start] as number) ^ markLow;
      high[start] = (high[start] as number) ^ markHigh;
      low[end] = (low[end] as number) ^ markLow;
      high[end] = (high[end] as number) ^ markHigh;
    }
  });
  const numbers = new Int32Array(edges.count);
  let [markLow, markHigh] = [0, 0];
  for (let edge = 0; edge < edges.count; edge++) {
    markLow ^= low[edge] as number;
    markHigh ^= high[edge] as number;
    numbers[edge] = classes.number(markLow, markHigh, countries[edge] as number, sets, edges, edge);
  }
  return numbers;
}

/** 64 well-mixed bits for each set (SplitMix): sets of sets are alike where the sums of their marks are. */
function markOf(set: number): [number, number] {
  const half = (seed: number): number => {
    let z = (Math.imul(set + 1, 0x9e3779b9) + seed) | 0;
    z = Math.imul(z ^ (z >>> 16), 0x85ebca6b);
    z = Math.imul(z ^ (z >>> 13), 0xc2b2ae35);
    return z ^ (z >>> 16);
  };
  return [half(0x243f6a88), half(0x13198a2e)];
}

/** Neighbouring intervals of one class are made one. */
function joined(family: 4 | 6, edges: Edges, numbers: Int32Array): Side {
  const width = family === 4 ? 1 : 4;
  let count = 0;
  const { words } = edges;
  const starts = new Uint32Array(words.length);
  const classes = new Int32Array(edges.count);
  for (let edge = 0; edge < edges.count; edge++) {
    if (count > 0 && classes[count - 1] === numbers[edge]) continue;
    if (width === 1) starts[count] = words[edge] as number;
    else for (let word = 0; word < width; word++) starts[count * width + word] = words[edge * width + word] as number;
    classes[count++] = numbers[edge] as number;
  }
  const kept = starts.slice(0, count * width);
  return { intervals: intervalsOf(family, kept, endsOf(kept, width)), classes: classes.slice(0, count) };
}

/** The intervals leave nothing out, so that each ends before the next one starts. */
function endsOf(starts: Uint32Array, width: number): Uint32Array {
  const ends = new Uint32Array(starts.length).fill(0xffffffff);
  for (let at = width; at < starts.length; at += width)
    for (let word = width - 1, borrow = 1; word >= 0; word--) {
      const value = (starts[at + word] as number) - borrow;
      borrow = value < 0 ? 1 : 0;
      ends[at - width + word] = value;
    }
  return ends;
}

/** The classes as they come up. */
class Classes {
  readonly all: AddressClass[] = [];
  readonly #numbers = new Map<string, number>();
  readonly #last = { low: 0, high: 0, country: 0, number: -1 };
  readonly #mark = new Int32Array(3);
  readonly #marks = new WordTable(3, 4096);
  readonly #ofMarks: number[] = [];
  readonly #countries: string[] = [];
  readonly #countryNumbers = new Map<string, number>();

  country(code: string): number {
    let number = this.#countryNumbers.get(code);
    if (number === undefined) {
      number = this.#countries.push(code) - 1;
      this.#countryNumbers.set(code, number);
    }
    return number;
  }

  /** The class of the interval at the edge, by the mark of the sets that hold it and its country. */
  number(low: number, high: number, country: number, sets: readonly Intervals[], edges: Edges, edge: number): number {
    const last = this.#last;
    if (last.number >= 0 && last.low === low && last.high === high && last.country === country) return last.number;
    this.#mark[0] = low;
    this.#mark[1] = high;
    this.#mark[2] = country;
    const marked = this.#marks.number(this.#mark);
    if (marked === this.#ofMarks.length) this.#ofMarks.push(this.#known(country, setsAt(sets, edges, edge)));
    const number = this.#ofMarks[marked] as number;
    last.low = low;
    last.high = high;
    last.country = country;
    last.number = number;
    return number;
  }

  /** IPv4 and IPv6 share their classes. */
  #known(country: number, sets: readonly number[]): number {
    const key = `${country}|${sets.join()}`;
    const known = this.#numbers.get(key);
    if (known !== undefined) return known;
    const number = this.all.push({ sets, country: this.#countries[country] }) - 1;
    this.#numbers.set(key, number);
    return number;
  }
}

/** Which of the sets hold the interval at the edge: asked once for each class. */
function setsAt(sets: readonly Intervals[], edges: Edges, edge: number): number[] {
  const four = edges.words.length === edges.count;
  const address: Address = four
    ? { family: 4, value: edges.words[edge] as number }
    : { family: 6, words: [...edges.words.subarray(edge * 4, edge * 4 + 4)] as never };
  return sets.flatMap((intervals, number) => (findInterval(intervals, address) >= 0 ? [number] : []));
}
