import { hasVectorBit, setVectorBit, wordsFor } from './vector.js';

/** Clauses that are classified together, since they test the same few sources. */
export interface Group {
  /** The numbers of the sources, in order. */
  readonly sources: readonly number[];
  readonly clauses: Uint32Array;
}

/** Up to this many words of clauses, one group is faster than several. */
export const FEW_WORDS = 4;
const MOST_GROUPS = 12;

/**
 * Groups the clauses by the sources that they are tested on. `tested` has for each source the clauses tested on it;
 * clauses tested on none are in no group. Values of a source that differ for some rule are mostly alike to the clauses
 * of one group, so that few combinations come up in each.
 */
export function groupClauses(tested: readonly Uint32Array[], clauses: number): Group[] {
  const bySources = new Map<string, Group>();
  for (let clause = 0; clause < clauses; clause++) {
    const sources = [...tested.keys()].filter((source) => hasVectorBit(tested[source] as Uint32Array, clause));
    if (sources.length === 0) continue;
    const key = sources.join();
    const group = bySources.get(key) ?? { sources, clauses: new Uint32Array(wordsFor(clauses)) };
    setVectorBit(group.clauses, clause);
    bySources.set(key, group);
  }
  const groups = [...bySources.values()];
  if (wordsFor(clauses) <= FEW_WORDS) return groups.length === 0 ? [] : [groups.reduce(together)];
  return fewer(widerTake(groups));
}

/** Groups whose sources another group has all of are taken by it: that costs no look-up more. */
function widerTake(groups: readonly Group[]): Group[] {
  const widest = groups.toSorted((a, b) => b.sources.length - a.sources.length);
  const kept: Group[] = [];
  for (const group of widest) {
    const wider = kept.findLastIndex(({ sources }) => group.sources.every((source) => sources.includes(source)));
    if (wider < 0) kept.push(group);
    else kept[wider] = together(kept[wider] as Group, group);
  }
  return kept;
}

/** Takes those together that have the fewest sources between them, until they are few enough. */
function fewer(groups: readonly Group[]): Group[] {
  const left = [...groups];
  while (left.length > MOST_GROUPS) {
    let [best, first, second] = [Number.POSITIVE_INFINITY, 0, 1];
    for (let a = 0; a < left.length; a++)
      for (let b = a + 1; b < left.length; b++) {
        const { length } = together(left[a] as Group, left[b] as Group).sources;
        if (length < best) [best, first, second] = [length, a, b];
      }
    left[first] = together(left[first] as Group, left[second] as Group);
    left.splice(second, 1);
  }
  return left;
}

function together(a: Group, b: Group): Group {
  return {
    sources: [...new Set([...a.sources, ...b.sources])].sort((x, y) => x - y),
    clauses: a.clauses.map((word, at) => word | (b.clauses[at] as number)),
  };
}
