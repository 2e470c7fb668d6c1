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
 * Where to look for an address by its first word: for each part of the span between the lowest and the highest start,
 * the index of the first interval that starts in or behind it. So a search looks at the few that start close by.
 */
interface Directory {
  readonly base: number;
  /** How many bits of the distance from the base do not matter. */
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

const MOST_BITS = 20;

/** About one part for each interval, up to a million, so that small sets stay small. */
function directoryOf(starts: Uint32Array, count: number, width: number): Directory {
  const base = count === 0 ? 0 : (starts[0] as number);
  const span = count === 0 ? 0 : (starts[(count - 1) * width] as number) - base;
  const bits = Math.min(MOST_BITS, Math.ceil(Math.log2(count + 1)));
  const shift = Math.max(0, 32 - Math.clz32(span) - bits);
  const first = new Uint32Array((span >>> shift) + 2);
  let index = 0;
  for (let part = 0; part < first.length; part++) {
    while (index < count && ((starts[index * width] as number) - base) >>> shift < part) index++;
    first[part] = index;
  }
  return { base, shift, first };
}

/** The index of the interval that holds the address, or -1. The address must be of the intervals' family. */
export function findInterval(intervals: Intervals, address: Address): number {
  return address.family === 4 ? findFour(intervals, address.value) : findSix(intervals, address.words);
}

/** As `findInterval`, of an IPv4 address as a number. */
export function findFour(intervals: Intervals, value: number): number {
  const at = lastStartFour(intervals, value);
  return at >= 0 && value <= (intervals.ends[at] as number) ? at : -1;
}

/** The index of the last interval that starts at or before the IPv4 address, or -1. */
export function lastStartFour({ starts, directory, count }: Intervals, value: number): number {
  return searchFour(starts, 1, directory, count, value);
}

/** As `lastStartFour`, for starts that are `stride` words apart. */
export function searchFour(
  words: Uint32Array,
  stride: number,
  { base, shift, first }: Directory,
  count: number,
  value: number,
): number {
  if (count === 0 || value < base) return -1;
  const part = (value - base) >>> shift;
  if (part >= first.length - 1) return count - 1;
  // The interval before the first that starts in this part may still reach into it.
  let low = (first[part] as number) - 1;
  let high = (first[part + 1] as number) - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((words[middle * stride] as number) <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}

function findSix(intervals: Intervals, words: Words): number {
  const at = lastStartSix(intervals, words[0], words[1], words[2], words[3]);
  return at >= 0 && compareWordsAt(intervals.ends, at * 4, words[0], words[1], words[2], words[3]) >= 0 ? at : -1;
}

/** As `lastStartFour`, of an IPv6 address by its words. */
export function lastStartSix(
  { starts, directory, count }: Intervals,
  a: number,
  b: number,
  c: number,
  d: number,
): number {
  return searchSix(starts, 4, directory, count, a, b, c, d);
}

/** As `searchFour`, of an IPv6 address by its words. */
export function searchSix(
  words: Uint32Array,
  stride: number,
  { base, shift, first }: Directory,
  count: number,
  a: number,
  b: number,
  c: number,
  d: number,
): number {
  if (count === 0 || a < base) return -1;
  const part = (a - base) >>> shift;
  const inside = part < first.length - 1;
  let low = inside ? (first[part] as number) - 1 : count - 1;
  let high = inside ? (first[part + 1] as number) - 1 : count - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (compareWordsAt(words, middle * stride, a, b, c, d) <= 0) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Orders the address in the words at the place and the one given. */
export function compareWordsAt(words: Uint32Array, at: number, a: number, b: number, c: number, d: number): number {
  return (
    (words[at] as number) - a ||
    (words[at + 1] as number) - b ||
    (words[at + 2] as number) - c ||
    (words[at + 3] as number) - d
  );
}

/** Orders intervals by where they start; of those that start together the widest comes first. */
export function byStartThenWidest(a: Interval, b: Interval): number {
  return compareAddresses(a.first, b.first) || compareAddresses(b.last, a.last);
}

/** The interval at the index, which must be below `count`. The result is a copy. */
export function intervalAt(intervals: Intervals, index: number): Interval {
  return { first: unpack(intervals, intervals.starts, index), last: unpack(intervals, intervals.ends, index) };
}

function unpack(intervals: Intervals, packedWords: Uint32Array, index: number): Address {
  if (intervals.family === 4) return { family: 4, value: packedWords[index] as number };
  const at = index * 4;
  return { family: 6, words: [...packedWords.subarray(at, at + 4)] as unknown as Words };
}
