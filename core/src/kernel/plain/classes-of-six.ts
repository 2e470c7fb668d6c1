import type { PlainMemory } from './plain-memory.js';

export function classesOfSix(
  memory: PlainMemory,
  starts: number,
  classes: number,
  intervals: number,
  values: number,
  count: number,
  into: number,
): void {
  const valueAt = (place: number, at: number): bigint =>
    memory.words(place + at * 16, 4).reduce((sum, word) => (sum << 32n) | BigInt(word), 0n);
  const all = Array.from({ length: intervals }, (_, at) => valueAt(starts, at));
  const numbers = memory.ints(classes, intervals);
  const found = memory.ints(into, count);
  for (let at = 0; at < count; at++) {
    const value = valueAt(values, at);
    found[at] = numbers[all.findLastIndex((start) => start <= value)] as number;
  }
}
