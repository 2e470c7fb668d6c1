/** A name that has moved among those that stayed. */
export interface Move {
  readonly name: string;
  /** The name that it is above or below now. */
  readonly side: 'above' | 'below';
  readonly of: string;
}

/**
 * The fewest names that have to be moved to make one order of the other; names that only one of them has do not count.
 * What stays is a longest increasing subsequence.
 */
export function movesBetween(before: readonly string[], after: readonly string[]): Move[] {
  const places = new Map(after.map((name, place) => [name, place]));
  const common = before.filter((name) => places.has(name));
  const order = common.map((name) => places.get(name) as number);
  // From the end, so that of two neighbours that changed places the one that moved up is reported, as people do it.
  const stayed = new Set(longestIncreasing(order.toReversed().map((place) => -place)).map((place) => -place));
  const both = after.filter((name) => before.includes(name));
  return common
    .filter((name) => !stayed.has(places.get(name) as number))
    .map((name): Move => {
      const at = both.indexOf(name);
      const up = at < common.indexOf(name);
      const neighbour = both[up ? at + 1 : at - 1];
      return { name, side: up ? 'above' : 'below', of: neighbour as string };
    });
}

/** The numbers of a longest increasing subsequence of different numbers. */
function longestIncreasing(numbers: readonly number[]): number[] {
  // ends[n]: the index of the least number that n + 1 numbers can end with; before[i]: the predecessor of i there.
  const ends: number[] = [];
  const before: (number | undefined)[] = [];
  numbers.forEach((number, index) => {
    const found = ends.findIndex((end) => (numbers[end] as number) >= number);
    const length = found < 0 ? ends.length : found;
    before[index] = ends[length - 1];
    ends[length] = index;
  });
  const run: number[] = [];
  for (let at = ends.at(-1); at !== undefined; at = before[at]) run.unshift(numbers[at] as number);
  return run;
}
