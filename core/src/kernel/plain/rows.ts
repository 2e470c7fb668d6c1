import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

type RowCalls = Pick<KernelCalls, 'gather' | 'scatter' | 'cross' | 'outcomesOf' | 'narrow' | 'pairClasses'>;

const UNKNOWN = -1;
const UNRESOLVED = -2;

/** Loops over the rows of a chunk. */
export function plainRows(memory: PlainMemory): RowCalls {
  const word = (pointer: number, at: number): number => memory.words(pointer, at + 1)[at] as number;
  const int = (pointer: number, at: number): number => memory.ints(pointer, at + 1)[at] as number;
  const put = (pointer: number, at: number, value: number): void => {
    memory.ints(pointer, at + 1)[at] = value;
  };
  return {
    gather(codes, rows, count, into) {
      for (let at = 0; at < count; at++) put(into, at, word(codes, word(rows, at)));
    },
    cross(left, leftClasses, right, rightClasses, pairs, width, from, count, into) {
      const classOf = (codes: number, classes: number, row: number) =>
        classes === 0 ? word(codes, row) : word(classes, word(codes, row));
      for (let row = from; row < count; row++) {
        const number = int(pairs, classOf(left, leftClasses, row) * width + classOf(right, rightClasses, row));
        if (number === UNKNOWN) return row;
        put(into, row, number);
      }
      return count;
    },
    scatter(rows, values, count, into) {
      for (let at = 0; at < count; at++) put(into, word(rows, at), word(values, at));
    },
    pairClasses(shared, own, width, pairs, unseen, from, count, into) {
      for (let at = from; at < count; at++) {
        const ofShared = int(shared, at);
        const number = ofShared < 0 ? unseen : int(pairs, ofShared * width + word(own, at));
        if (ofShared >= 0 && number === UNKNOWN) return at;
        put(into, at, number);
      }
      return count;
    },
    outcomesOf(numbers, base, resolved, known, from, count, into) {
      for (let row = from; row < count; row++) {
        const number = word(numbers, row) - base;
        const outcome = number < known ? int(resolved, number) : UNRESOLVED;
        if (outcome === UNRESOLVED) return row;
        put(into, row, outcome);
      }
      return count;
    },
    narrow(codes, one, ones, other, others, known, rows, examples) {
      let kinds = 0;
      for (let row = 0; row < rows; row++) {
        const pair = (word(codes, row) * ones + word(one, row)) * others + word(other, row);
        if (word(known, pair) === 0) {
          put(examples, kinds, row);
          put(known, pair, ++kinds);
        }
        put(codes, row, word(known, pair) - 1);
      }
      return kinds;
    },
  };
}
