import { type Address, compareAddresses, predecessor, successor } from './address.js';
import {
  byStartThenWidest,
  findInterval,
  type Interval,
  type Intervals,
  intervalAt,
  intervalsOf,
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
    four: mergedFour(all),
    six: packIntervals(6, merged(all.filter((range) => range.first.family === 6))),
  };
}

/** Starts are sorted as numbers that carry the place of their range in their lower bits: lists are mostly IPv4. */
const PLACE_BITS = 2 ** 20;

function mergedFour(all: readonly AddressRange[]): Intervals {
  const firsts = new Float64Array(all.length);
  const lasts = new Float64Array(all.length);
  let count = 0;
  for (const { first, last } of all) {
    if (first.family !== 4 || last.family !== 4) continue;
    firsts[count] = first.value;
    lasts[count++] = last.value;
  }
  const order = orderOf(firsts.subarray(0, count));
  const starts = new Uint32Array(count);
  const ends = new Uint32Array(count);
  let kept = 0;
  for (const place of order) {
    const [first, last] = [firsts[place] as number, lasts[place] as number];
    if (kept > 0 && first <= (ends[kept - 1] as number) + 1) {
      if (last > (ends[kept - 1] as number)) ends[kept - 1] = last;
    } else {
      starts[kept] = first;
      ends[kept++] = last;
    }
  }
  return intervalsOf(4, starts.slice(0, kept), ends.slice(0, kept));
}

/** The places of the numbers in their order. */
function orderOf(values: Float64Array): Uint32Array {
  const places = new Uint32Array(values.length);
  if (values.length >= PLACE_BITS) {
    for (let at = 0; at < places.length; at++) places[at] = at;
    return places.sort((a, b) => (values[a] as number) - (values[b] as number));
  }
  const sorted = new Float64Array(values.length);
  for (let at = 0; at < sorted.length; at++) sorted[at] = (values[at] as number) * PLACE_BITS + at;
  sorted.sort();
  for (let at = 0; at < sorted.length; at++) {
    const value = sorted[at] as number;
    places[at] = value - Math.floor(value / PLACE_BITS) * PLACE_BITS;
  }
  return places;
}

/** True where the set has the address, of either family. */
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

/** Whether the outer set holds every address of the inner one. */
export function setCovers(outer: AddressSet, inner: AddressSet): boolean {
  return intervalsCover(outer.four, inner.four) && intervalsCover(outer.six, inner.six);
}

/** What the intervals are merged of leaves gaps, so that one of the inner lies within one of the outer or is not covered. */
function intervalsCover(outer: Intervals, inner: Intervals): boolean {
  for (let index = 0; index < inner.count; index++) {
    const { first, last } = intervalAt(inner, index);
    const at = findInterval(outer, first);
    if (at < 0 || at !== findInterval(outer, last)) return false;
  }
  return true;
}

/** Some addresses of the set, up to this many of each family: the first of intervals spread over it. */
export function setSamples({ four, six }: AddressSet, most: number): Address[] {
  return [four, six].flatMap((intervals) => {
    const count = Math.min(most, intervals.count);
    return Array.from(
      { length: count },
      (_, at) => intervalAt(intervals, Math.floor((at * intervals.count) / count)).first,
    );
  });
}

/** The disjoint ranges of the set, in order. */
export function setRanges(set: AddressSet): AddressRange[] {
  return [set.four, set.six].flatMap((intervals) =>
    Array.from({ length: intervals.count }, (_, index) => intervalAt(intervals, index)),
  );
}

/** All addresses of both families that the set does not hold. */
export function complement(but: AddressSet): AddressSet {
  return addressSet([...gaps(but.four, FIRST_4, LAST_4), ...gaps(but.six, FIRST_6, LAST_6)]);
}

const FIRST_4: Address = { family: 4, value: 0 };
const LAST_4: Address = { family: 4, value: 0xffffffff };
const FIRST_6: Address = { family: 6, words: [0, 0, 0, 0] };
const LAST_6: Address = { family: 6, words: [0xffffffff, 0xffffffff, 0xffffffff, 0xffffffff] };

function gaps(intervals: Intervals, first: Address, last: Address): AddressRange[] {
  const found: AddressRange[] = [];
  let from: Address | undefined = first;
  for (let index = 0; index < intervals.count && from !== undefined; index++) {
    const interval: AddressRange = intervalAt(intervals, index);
    const before = predecessor(interval.first);
    if (before && compareAddresses(from, before) <= 0) found.push({ first: from, last: before });
    from = successor(interval.last);
  }
  return from === undefined ? found : [...found, { first: from, last }];
}
