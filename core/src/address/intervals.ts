import { type Address, compareAddresses, type Words } from './address.js';

/**
 * Disjoint intervals of one family, in order, as words in typed arrays: 1 word an address for IPv4, 4 for IPv6.
 * `starts` and `ends` are both included in the interval.
 */
export interface Intervals {
  readonly family: 4 | 6;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  readonly count: number;
  readonly directory: Directory;
}

/**
 * For each value of the first bits of an address, the index of the first interval that starts at or behind it; so that
 * a search looks at the few that start with the same bits. `shift` is what is left of the word behind those bits.
 */
interface Directory {
  readonly shift: number;
  readonly first: Uint32Array;
}

export interface Interval {
  readonly first: Address;
  readonly last: Address;
}

/** Packs intervals of one family that are already disjoint and in order. */
export function packIntervals(family: 4 | 6, intervals: readonly Interval[]): Intervals {
  const width = family === 4 ? 1 : 4;
  const starts = new Uint32Array(intervals.length * width);
  const ends = new Uint32Array(intervals.length * width);
  let at = 0;
  for (const { first, last } of intervals) {
    put(starts, at, first);
    put(ends, at, last);
    at += width;
  }
  return intervalsOf(family, starts, ends);
}

/** Intervals from their words, which must be disjoint and in order. */
export function intervalsOf(family: 4 | 6, starts: Uint32Array, ends: Uint32Array): Intervals {
  const count = family === 4 ? starts.length : starts.length / 4;
  return { family, starts, ends, count, directory: directoryOf(starts, count, family === 4 ? 1 : 4) };
}

function put(words: Uint32Array, at: number, address: Address): void {
  if (address.family === 4) words[at] = address.value;
  else words.set(address.words, at);
}

const MOST_BITS = 16;

/** About one bit for each doubling of the intervals, up to 16, so that small sets stay small. */
function directoryOf(starts: Uint32Array, count: number, width: number): Directory {
  const bits = Math.min(MOST_BITS, Math.max(1, Math.ceil(Math.log2(count + 1))));
  const shift = 32 - bits;
  const first = new Uint32Array(2 ** bits + 1);
  let index = 0;
  for (let prefix = 0; prefix < first.length; prefix++) {
    while (index < count && (starts[index * width] as number) >>> shift < prefix) index++;
    first[prefix] = index;
  }
  return { shift, first };
}

/** The index of the interval that holds the address, or -1. The address must be of the intervals' family. */
export function findInterval(intervals: Intervals, address: Address): number {
  return address.family === 4 ? findFour(intervals, address.value) : findSix(intervals, address.words);
}

/** As `findInterval`, of an IPv4 address as a number. */
export function findFour({ starts, ends, directory }: Intervals, value: number): number {
  const at = value >>> directory.shift;
  // The interval before the first that starts with these bits may still reach into them.
  let low = (directory.first[at] as number) - 1;
  let high = (directory.first[at + 1] as number) - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((starts[middle] as number) <= value) low = middle;
    else high = middle - 1;
  }
  return low >= 0 && (starts[low] as number) <= value && value <= (ends[low] as number) ? low : -1;
}

function findSix({ starts, ends, directory }: Intervals, words: Words): number {
  const at = words[0] >>> directory.shift;
  let low = (directory.first[at] as number) - 1;
  let high = (directory.first[at + 1] as number) - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (compareAt(starts, middle, words) <= 0) low = middle;
    else high = middle - 1;
  }
  return low >= 0 && compareAt(starts, low, words) <= 0 && compareAt(ends, low, words) >= 0 ? low : -1;
}

function compareAt(packed: Uint32Array, index: number, words: Words): number {
  const at = index * 4;
  return (
    (packed[at] as number) - words[0] ||
    (packed[at + 1] as number) - words[1] ||
    (packed[at + 2] as number) - words[2] ||
    (packed[at + 3] as number) - words[3]
  );
}

/** Orders intervals by where they start; of those that start together the widest comes first. */
export function byStartThenWidest(a: Interval, b: Interval): number {
  return compareAddresses(a.first, b.first) || compareAddresses(b.last, a.last);
}

export function intervalAt(intervals: Intervals, index: number): Interval {
  return { first: unpack(intervals, intervals.starts, index), last: unpack(intervals, intervals.ends, index) };
}

function unpack(intervals: Intervals, packedWords: Uint32Array, index: number): Address {
  if (intervals.family === 4) return { family: 4, value: packedWords[index] as number };
  const at = index * 4;
  return { family: 6, words: [...packedWords.subarray(at, at + 4)] as unknown as Words };
}
