import { type Address, compareAddresses, successor } from './address.js';
import {
  byStartThenWidest,
  findInterval,
  type Interval,
  type Intervals,
  intervalAt,
  packIntervals,
} from './intervals.js';
import type { AddressRange } from './range.js';

/** An immutable set of addresses; a search takes time in the logarithm of its size. */
export interface AddressSet {
  readonly four: Intervals;
  readonly six: Intervals;
}

/** Merges ranges, in any order and overlapping as they like, into one set. */
export function addressSet(ranges: Iterable<AddressRange>): AddressSet {
  const all = [...ranges];
  return {
    four: packIntervals(4, merged(all.filter((range) => range.first.family === 4))),
    six: packIntervals(6, merged(all.filter((range) => range.first.family === 6))),
  };
}

export function setContains(set: AddressSet, address: Address): boolean {
  return findInterval(address.family === 4 ? set.four : set.six, address) >= 0;
}

/** Ranges of one family, sorted and with those that overlap or touch made one. */
function merged(ranges: readonly AddressRange[]): Interval[] {
  const found: { first: Address; last: Address }[] = [];
  for (const range of [...ranges].sort(byStartThenWidest)) {
    const open = found.at(-1);
    const next = open && successor(open.last);
    if (open && (next === undefined || compareAddresses(range.first, next) <= 0)) {
      if (compareAddresses(range.last, open.last) > 0) open.last = range.last;
    } else {
      found.push({ ...range });
    }
  }
  return found;
}

/** The disjoint ranges of the set, in order. */
export function setRanges(set: AddressSet): AddressRange[] {
  return [set.four, set.six].flatMap((intervals) =>
    Array.from({ length: intervals.count }, (_, index) => intervalAt(intervals, index)),
  );
}
