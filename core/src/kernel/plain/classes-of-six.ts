import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

/** Looks at all intervals for each address, as numbers of 128 bits. */
export const plainClassesOfSix =
  (memory: PlainMemory): KernelCalls['classesOfSix'] =>
  (starts, classes, intervals, values, count, into) => {
    const valueAt = (pointer: number, at: number): bigint =>
      memory.words(pointer + at * 16, 4).reduce((sum, word) => (sum << 32n) | BigInt(word), 0n);
    const all = Array.from({ length: intervals }, (_, at) => valueAt(starts, at));
    const numbers = memory.ints(classes, intervals);
    const found = memory.ints(into, count);
    for (let at = 0; at < count; at++) {
      const value = valueAt(values, at);
      found[at] = numbers[all.findLastIndex((start) => start <= value)] as number;
    }
  };
