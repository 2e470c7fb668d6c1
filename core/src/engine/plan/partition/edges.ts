import { type Intervals, intervalsOf, lastStartSix } from '../../../address/index.js';

/**
 * Where the address space of one family is cut: the starts of the elementary intervals, in order, from the first
 * address on.
 */
export interface Edges {
  readonly count: number;
  /** The edges that an interval of a set starts at and, not included, ends at. */
  readonly startOf: (intervals: Intervals, index: number) => number;
  readonly endOf: (intervals: Intervals, index: number) => number;
  /** The words of all edges, for a search. */
  readonly words: Uint32Array;
}

const SPACE_4 = 2 ** 32;

/** The edges of IPv4 sets. Large sets are in order already, and are merged; what the small ones have is sorted. */
export function edgesFour(all: readonly Intervals[]): Edges {
  const large = all.filter(({ count }) => count > MOST_SORTED);
  const small = all.filter(({ count }) => count <= MOST_SORTED);
  let positions = sortedEdges(small);
  for (const intervals of large) positions = merged(positions, edgesOf(intervals));
  let count = 0;
  let last = -1;
  for (let at = 0; at < positions.length; at++) {
    const position = positions[at] as number;
    if (position === last || position >= SPACE_4) continue;
    positions[count++] = position;
    last = position;
  }
  const words = new Uint32Array(positions.subarray(0, count));
  const find = finder(words);
  return {
    count,
    words,
    startOf: ({ starts }, index) => find(starts[index] as number),
    endOf: ({ ends }, index) => ((ends[index] as number) === SPACE_4 - 1 ? count : find((ends[index] as number) + 1)),
  };
}

const MOST_SORTED = 50_000;

/** The first address, and the edges of all, in order. */
function sortedEdges(all: readonly Intervals[]): Float64Array {
  const positions = new Float64Array(all.reduce((sum, { count }) => sum + count * 2, 1));
  let at = 1;
  for (const intervals of all) {
    positions.set(edgesOf(intervals), at);
    at += intervals.count * 2;
  }
  return positions.sort();
}

/** Where the intervals start and, not included, end: in order, as they are. */
function edgesOf({ starts, ends, count }: Intervals): Float64Array {
  const positions = new Float64Array(count * 2);
  for (let index = 0; index < count; index++) {
    positions[index * 2] = starts[index] as number;
    positions[index * 2 + 1] = (ends[index] as number) + 1;
  }
  return positions;
}

function merged(a: Float64Array, b: Float64Array): Float64Array {
  const all = new Float64Array(a.length + b.length);
  for (let at = 0, left = 0, right = 0; at < all.length; at++) {
    const takeLeft = right >= b.length || (left < a.length && (a[left] as number) <= (b[right] as number));
    all[at] = (takeLeft ? a[left++] : b[right++]) as number;
  }
  return all;
}

/** Finds the index of a number that is in the sorted words, by a directory of their first bits: about one word each. */
function finder(words: Uint32Array): (value: number) => number {
  const shift = 32 - Math.max(1, Math.min(20, Math.ceil(Math.log2(words.length + 1))));
  const first = new Uint32Array(2 ** (32 - shift) + 1);
  for (let prefix = 0, at = 0; prefix < first.length; prefix++) {
    while (at < words.length && (words[at] as number) >>> shift < prefix) at++;
    first[prefix] = at;
  }
  return (value) => {
    let low = first[value >>> shift] as number;
    let high = (first[(value >>> shift) + 1] as number) - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((words[middle] as number) < value) low = middle + 1;
      else high = middle;
    }
    return low;
  };
}

/** The edges of IPv6 sets. */
export function edgesSix(all: readonly Intervals[]): Edges {
  const size = all.reduce((sum, { count }) => sum + count * 2, 1);
  const found = new Uint32Array(size * 4);
  let count = 1;
  for (const { starts, ends, count: own } of all)
    for (let index = 0; index < own; index++) {
      found.set(starts.subarray(index * 4, index * 4 + 4), count++ * 4);
      if (following(ends, index * 4)) found.set(next, count++ * 4);
    }
  const words = distinct(found, count);
  const edges = intervalsOf(6, words, words);
  return {
    count: edges.count,
    words,
    startOf: ({ starts }, index) => place(edges, starts, index * 4),
    endOf: ({ ends }, index) => (following(ends, index * 4) ? place(edges, next, 0) : edges.count),
  };
}

/** The first `count` addresses in order, each once. */
function distinct(words: Uint32Array, count: number): Uint32Array {
  const order = Uint32Array.from({ length: count }, (_, at) => at * 4);
  order.sort((a, b) => compare(words, a, b));
  const sorted = new Uint32Array(count * 4);
  let kept = 0;
  for (let at = 0; at < count; at++) {
    const from = order[at] as number;
    if (at > 0 && compare(words, from, order[at - 1] as number) === 0) continue;
    sorted.set(words.subarray(from, from + 4), kept++ * 4);
  }
  return sorted.slice(0, kept * 4);
}

function compare(words: Uint32Array, a: number, b: number): number {
  for (let word = 0; word < 4; word++) {
    const difference = (words[a + word] as number) - (words[b + word] as number);
    if (difference !== 0) return difference;
  }
  return 0;
}

const place = (edges: Intervals, words: Uint32Array, at: number): number =>
  lastStartSix(edges, words[at] as number, words[at + 1] as number, words[at + 2] as number, words[at + 3] as number);

/** What `following` found. */
const next = new Uint32Array(4);

/** Whether there is an address behind the one at the place; then it is in `next`. */
function following(words: Uint32Array, at: number): boolean {
  next.set(words.subarray(at, at + 4));
  for (let word = 3; word >= 0; word--) {
    next[word] = (next[word] as number) + 1;
    if (next[word] !== 0) return true;
  }
  return false;
}
