import type { Term } from '../../../condition/index.js';

/** Tells which of an axis's terms a value matches, by their numbers; they may repeat. */
export type Matcher<V> = (value: V) => number[];

/** Terms by their numbers: those of each type apart. */
export function numbered<T extends Term, K extends T['type']>(
  terms: readonly T[],
  type: K,
): { term: Extract<T, { type: K }>; number: number }[] {
  return terms.flatMap((term, number) =>
    term.type === type ? [{ term: term as Extract<T, { type: K }>, number }] : [],
  );
}

/** Adds a number under a key. */
export function post<K>(postings: Map<K, number[]>, key: K, number: number): void {
  const known = postings.get(key);
  if (known) known.push(number);
  else postings.set(key, [number]);
}
