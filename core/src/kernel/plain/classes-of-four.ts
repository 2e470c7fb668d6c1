import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

const HALVES = 65_536;

/** Searches each address by halving. */
export const plainClassesOfFour =
  (memory: PlainMemory): KernelCalls['classesOfFour'] =>
  (first, low, classes, wide, values, count, into) => {
    const firsts = memory.words(first, HALVES + 1);
    const intervals = firsts[HALVES] as number;
    const lows = memory.halves(low, intervals);
    const numbers = wide ? memory.ints(classes, intervals) : memory.halves(classes, intervals);
    const found = memory.ints(into, count);
    memory.words(values, count).forEach((value, at) => {
      const half = value >>> 16;
      let begin = (firsts[half] as number) - 1;
      let end = firsts[half + 1] as number;
      while (end - begin > 1) {
        const middle = (begin + end) >>> 1;
        if ((lows[middle] as number) <= (value & 0xffff)) begin = middle;
        else end = middle;
      }
      found[at] = numbers[begin] as number;
    });
  };
