import type { Intervals } from '../../../address/index.js';

/**
 * Where the address space of one family is cut: the starts of the elementary intervals, in order, from the first
 * address on. Positions are numbers for IPv4, and texts of 32 hexadecimal digits for IPv6, which order alike.
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

/** The edges of IPv4 sets. */
export function edgesFour(all: readonly Intervals[]): Edges {
  const size = all.reduce((sum, { count }) => sum + count * 2, 1);
  const positions = new Float64Array(size);
  let at = 1;
  for (const { starts, ends, count } of all)
    for (let index = 0; index < count; index++) {
      positions[at++] = starts[index] as number;
      positions[at++] = (ends[index] as number) + 1;
    }
  positions.sort();
  let count = 0;
  for (const position of positions)
    if ((count === 0 || position !== positions[count - 1]) && position < SPACE_4) positions[count++] = position;
  const words = Uint32Array.from(positions.subarray(0, count));
  const find = finder(words);
  return {
    count,
    words,
    startOf: ({ starts }, index) => find(starts[index] as number),
    endOf: ({ ends }, index) => ((ends[index] as number) === SPACE_4 - 1 ? count : find((ends[index] as number) + 1)),
  };
}

/** Finds the index of a number that is in the sorted words, by a directory of their first 16 bits. */
function finder(words: Uint32Array): (value: number) => number {
  const first = new Uint32Array(65_537);
  for (let prefix = 0, at = 0; prefix < first.length; prefix++) {
    while (at < words.length && (words[at] as number) >>> 16 < prefix) at++;
    first[prefix] = at;
  }
  return (value) => {
    let low = first[value >>> 16] as number;
    let high = (first[(value >>> 16) + 1] as number) - 1;
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
  const texts = new Set(['0'.repeat(32)]);
  for (const { starts, ends, count } of all)
    for (let index = 0; index < count; index++) {
      texts.add(hex(starts, index * 4));
      const after = following(ends, index * 4);
      if (after !== undefined) texts.add(after);
    }
  const sorted = [...texts].sort();
  const indexes = new Map(sorted.map((text, index) => [text, index]));
  const words = new Uint32Array(sorted.length * 4);
  sorted.forEach((text, index) => {
    for (let word = 0; word < 4; word++)
      words[index * 4 + word] = Number.parseInt(text.slice(word * 8, word * 8 + 8), 16);
  });
  return {
    count: sorted.length,
    words,
    startOf: ({ starts }, index) => indexes.get(hex(starts, index * 4)) as number,
    endOf: ({ ends }, index) => {
      const after = following(ends, index * 4);
      return after === undefined ? sorted.length : (indexes.get(after) as number);
    },
  };
}

function hex(words: Uint32Array, at: number): string {
  let text = '';
  for (let word = 0; word < 4; word++) text += (words[at + word] as number).toString(16).padStart(8, '0');
  return text;
}

/** The address behind the one at the place; undefined behind the last of all. */
function following(words: Uint32Array, at: number): string | undefined {
  const next = words.slice(at, at + 4);
  for (let word = 3; word >= 0; word--) {
    next[word] = (next[word] as number) + 1;
    if (next[word] !== 0) return hex(next, 0);
  }
  return undefined;
}
