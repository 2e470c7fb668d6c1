/** Up to this many pairs are looked up in an array; more of them in a map. */
const MOST_IN_ARRAY = 2 ** 20;

/** Zipped by number, from 0 in the order in which they come, and where each came first. */
export interface Zipped {
  readonly codes: Uint32Array;
  readonly first: readonly number[];
}

/** Numbers the pairs of two numberings of the same rows, each of which lies below its count. */
export function zip(a: ArrayLike<number>, aCount: number, b: ArrayLike<number>, bCount: number): Zipped {
  return aCount * bCount <= MOST_IN_ARRAY ? inArray(a, aCount, b, bCount) : inMap(a, b, bCount);
}

function inArray(a: ArrayLike<number>, aCount: number, b: ArrayLike<number>, bCount: number): Zipped {
  // The number of a pair plus one; 0: not numbered yet.
  const known = new Uint32Array(aCount * bCount);
  const codes = new Uint32Array(a.length);
  const first: number[] = [];
  for (let at = 0; at < codes.length; at++) {
    const pair = (a[at] as number) * bCount + (b[at] as number);
    if (known[pair] === 0) known[pair] = first.push(at);
    codes[at] = (known[pair] as number) - 1;
  }
  return { codes, first };
}

function inMap(a: ArrayLike<number>, b: ArrayLike<number>, bCount: number): Zipped {
  const known = new Map<number, number>();
  const codes = new Uint32Array(a.length);
  const first: number[] = [];
  for (let at = 0; at < codes.length; at++) {
    const pair = (a[at] as number) * bCount + (b[at] as number);
    let number = known.get(pair);
    if (number === undefined) {
      number = first.push(at) - 1;
      known.set(pair, number);
    }
    codes[at] = number;
  }
  return { codes, first };
}
