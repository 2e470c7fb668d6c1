import { type Address, type AddressSet, type Intervals, specialPurpose } from '../../../address/index.js';
import { WordTable } from '../../../column/index.js';
import { type CountryData, type CountrySources, codeInTable } from '../../../country/index.js';
import { bitsIn, wordsFor } from '../vector.js';
import { type Edges, edgesFour, edgesSix } from './edges.js';
import * as fours from './four.js';
import * as sixes from './six.js';

/**
 * The address space in classes: addresses of one class are in the same sets and in the same country. One search finds
 * the class of an address, however many sets there are. Plain data.
 */
export interface Partition {
  readonly four: fours.FourSpace;
  readonly six: sixes.SixSpace;
  readonly classes: readonly AddressClass[];
  readonly countries: ClassCountries;
}

/** The countries of classes by number. */
export interface ClassCountries {
  readonly names: readonly string[];
  /** For each class the place of its country among the names plus one; 0 for none. */
  readonly ofClass: Uint32Array;
}

export interface AddressClass {
  /** The numbers of the sets that hold it. */
  readonly sets: readonly number[];
  /** A code, `private`, `unknown`, or undefined when no data is loaded. */
  readonly country: string | undefined;
}

/** Merges the sets and, where they are given, the countries. It does not depend on rules, only on what they speak of. */
export function partition(sets: readonly AddressSet[], country?: CountrySources): Partition {
  const classes = new Classes(sets.length);
  const [four, six] = [cut(4, sets, country, classes), cut(6, sets, country, classes)];
  return {
    four: fours.fourSpace(four.starts, four.classes, classes.all.length),
    six: sixes.sixSpace(six.starts, six.classes),
    classes: classes.all,
    countries: countriesByNumber(classes.all),
  };
}

function countriesByNumber(classes: readonly AddressClass[]): ClassCountries {
  const numbers = new Map<string, number>();
  const ofClass = Uint32Array.from(classes, ({ country }) => {
    if (country === undefined) return 0;
    const number = numbers.get(country) ?? numbers.size + 1;
    numbers.set(country, number);
    return number;
  });
  return { names: [...numbers.keys()], ofClass };
}

/** The number of the class that an address is in. */
export function classOf({ four, six }: Partition, address: Address): number {
  // The intervals leave nothing out, so that what starts last before an address holds it.
  if (address.family === 4) return classOfFour({ four }, address.value);
  const [a, b, c, d] = address.words;
  return sixes.classOfSix(six, a, b, c, d);
}

/** The number of the class that an IPv4 address is in, by its value. */
export const classOfFour = ({ four }: Pick<Partition, 'four'>, value: number): number => fours.classOfFour(four, value);

/** The country of an address; undefined when no data is loaded. */
export const countryIn = (partition: Partition, address: Address): string | undefined =>
  partition.classes[classOf(partition, address)]?.country;

/** The classes of IPv4 addresses, in `into` from `from` on; fastest where they are in order. */
export const classesOfFour = ({ four }: Partition, values: Uint32Array, into: Int32Array, from: number): void =>
  fours.classesOfFour(four, values, into, from);

/** The same of IPv6 addresses, four words each. */
export const classesOfSix = ({ six }: Partition, values: Uint32Array, into: Int32Array, from: number): void =>
  sixes.classesOfSix(six, values, into, from);

function cut(family: 4 | 6, sets: readonly AddressSet[], country: CountrySources | undefined, classes: Classes): Cut {
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

const UNKNOWN_COUNTRY = -1;

/** The number of each elementary interval's country. What comes later in the order of precedence is written over. */
function countriesOf(
  edges: Edges,
  country: CountrySources | undefined,
  sideOf: <T>(both: { four: T; six: T }) => T,
  classes: Classes,
): Int32Array {
  const found = new Int32Array(edges.count).fill(UNKNOWN_COUNTRY);
  const write = (intervals: Intervals, numberOf: (index: number) => number) => {
    for (let index = 0; index < intervals.count; index++)
      fill(found, numberOf(index), edges.startOf(intervals, index), edges.endOf(intervals, index));
  };
  const writeData = (data: CountryData) => {
    const { intervals, table, names } = sideOf(data);
    const numbers = names.map((name) => classes.country(name));
    write(intervals, (index) => numbers[codeInTable(table, index)] as number);
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

/** The class of each elementary interval: the sets that hold it are followed from edge to edge. */
function classify(edges: Edges, sets: readonly Intervals[], countries: Int32Array, classes: Classes): Int32Array {
  const { first, next, setOf } = turnsOf(edges, sets);
  const held = new Uint32Array(wordsFor(sets.length) + 1);
  const countryAt = held.length - 1;
  const numbers = new Int32Array(edges.count);
  let number = -1;
  for (let edge = 0; edge < edges.count; edge++) {
    const country = countries[edge] as number;
    const turns = first[edge] as number;
    for (let turn = turns; turn >= 0; turn = next[turn] as number) {
      const set = setOf[turn] as number;
      held[set >> 5] = (held[set >> 5] as number) ^ (1 << (set & 31));
    }
    if (number < 0 || turns >= 0 || held[countryAt] !== country >>> 0) {
      held[countryAt] = country;
      number = classes.number(held);
    }
    numbers[edge] = number;
  }
  return numbers;
}

/** At each edge a list of the sets that begin or end there. */
interface Turns {
  /** The first turn of each edge; -1 for none. */
  readonly first: Int32Array;
  readonly next: Int32Array;
  readonly setOf: Uint32Array;
}

function turnsOf(edges: Edges, sets: readonly Intervals[]): Turns {
  const count = 2 * sets.reduce((sum, intervals) => sum + intervals.count, 0);
  const first = new Int32Array(edges.count + 1).fill(-1);
  const next = new Int32Array(count);
  const setOf = new Uint32Array(count);
  let turn = 0;
  const add = (edge: number, set: number) => {
    setOf[turn] = set;
    next[turn] = first[edge] as number;
    first[edge] = turn++;
  };
  for (const [set, intervals] of sets.entries())
    for (let index = 0; index < intervals.count; index++) {
      add(edges.startOf(intervals, index), set);
      add(edges.endOf(intervals, index), set);
    }
  return { first, next, setOf };
}

/** The starts of the intervals of one family, by their words, and the class of each. */
interface Cut {
  readonly starts: Uint32Array;
  readonly classes: Int32Array;
}

/** Neighbouring intervals of one class are made one. */
function joined(family: 4 | 6, edges: Edges, numbers: Int32Array): Cut {
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
  return { starts: starts.slice(0, count * width), classes: classes.slice(0, count) };
}

/** The classes as they come up. IPv4 and IPv6 share them. */
class Classes {
  readonly all: AddressClass[] = [];
  readonly #table: WordTable;
  readonly #countries: string[] = [];
  readonly #countryNumbers = new Map<string, number>();

  constructor(sets: number) {
    this.#table = new WordTable(wordsFor(sets) + 1);
  }

  country(code: string): number {
    let number = this.#countryNumbers.get(code);
    if (number === undefined) {
      number = this.#countries.push(code) - 1;
      this.#countryNumbers.set(code, number);
    }
    return number;
  }

  /** The class of what these sets hold, as bits, with the number of the country in the last word. */
  number(held: Uint32Array): number {
    const number = this.#table.number(held);
    if (number === this.all.length)
      this.all.push({ sets: bitsIn(held.subarray(0, -1)), country: this.#countries[held.at(-1) as number] });
    return number;
  }
}
