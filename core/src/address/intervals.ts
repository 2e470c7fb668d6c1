import { type Address, compareAddresses, type Words, wordsOf } from './address.js';

/**
 * Disjoint intervals of one family, in order, as words in typed arrays: 1 word an address for IPv4, 4 for IPv6.
 * `starts` and `ends` are both included in the interval.
 */
export interface Intervals {
  readonly family: 4 | 6;
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  readonly count: number;
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
  intervals.forEach(({ first, last }, at) => {
    starts.set(packed(first), at * width);
    ends.set(packed(last), at * width);
  });
  return { family, starts, ends, count: intervals.length };
}

const packed = (address: Address): readonly number[] => (address.family === 4 ? [address.value] : address.words);

/** The index of the interval that holds the address, or -1. The address must be of the intervals' family. */
export function findInterval(intervals: Intervals, address: Address): number {
  let low = 0;
  let high = intervals.count - 1;
  const words = wordsOf(address);
  while (low <= high) {
    const middle = (low + high) >>> 1;
    if (compareAt(intervals, intervals.starts, middle, words) > 0) high = middle - 1;
    else if (compareAt(intervals, intervals.ends, middle, words) < 0) low = middle + 1;
    else return middle;
  }
  return -1;
}

function compareAt(intervals: Intervals, packedWords: Uint32Array, index: number, words: Words): number {
  if (intervals.family === 4) return (packedWords[index] as number) - words[3];
  const at = index * 4;
  return (
    (packedWords[at] as number) - words[0] ||
    (packedWords[at + 1] as number) - words[1] ||
    (packedWords[at + 2] as number) - words[2] ||
    (packedWords[at + 3] as number) - words[3]
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
