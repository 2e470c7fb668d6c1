import type { KernelCalls } from '../calls.js';
import type { PlainMemory } from './plain-memory.js';

type CountCalls = Pick<
  KernelCalls,
  'countCoded' | 'countOutcomes' | 'writeCoded' | 'writeAnswers' | 'markClasses' | 'mapClasses'
>;

/** A count, the earliest time, the latest time. */
const SUM = 3;

/** Loops that count the rows of a chunk, and write their verdicts. */
export function plainCounts(memory: PlainMemory): CountCalls {
  const word = (pointer: number, at: number): number => memory.words(pointer, at + 1)[at] as number;
  const byte = (pointer: number, at: number): number => memory.bytes(pointer, at + 1)[at] as number;
  const rowAt = (rows: number, at: number): number => (rows === 0 ? at : word(rows, at));
  return {
    countCoded(codes, answers, count, width, counts) {
      for (let row = 0; row < count; row++) {
        const at = word(codes, row) * width + byte(answers, row);
        memory.words(counts, at + 1)[at] = word(counts, at) + 1;
      }
    },
    countOutcomes(outcomes, rows, times, count, places, order, sums) {
      const found = new Map<number, { count: number; first: number; last: number }>();
      for (let at = 0; at < count; at++) {
        const outcome = word(outcomes, at);
        const row = rowAt(rows, at);
        const time = memory.doubles(times, row + 1)[row] as number;
        const sum = found.get(outcome) ?? { count: 0, first: Number.POSITIVE_INFINITY, last: Number.NEGATIVE_INFINITY };
        found.set(outcome, sum);
        sum.count++;
        if (time < sum.first) sum.first = time;
        if (time > sum.last) sum.last = time;
      }
      [...found].forEach(([outcome, sum], place) => {
        memory.words(order, place + 1)[place] = outcome;
        memory.words(places, outcome + 1)[outcome] = place + 1;
        memory.doubles(sums, (place + 1) * SUM).set([sum.count, sum.first, sum.last], place * SUM);
      });
      return found.size;
    },
    writeCoded(rows, numbers, count, codeOf, into) {
      for (let at = 0; at < count; at++) {
        const row = rowAt(rows, at);
        memory.words(into, row + 1)[row] = word(codeOf, word(numbers, at));
      }
    },
    markClasses(classes, count, marks) {
      for (const number of memory.ints(classes, count)) if (number >= 0) memory.bytes(marks, number + 1)[number] = 1;
    },
    mapClasses(classes, count, map, into) {
      const mapped = memory.words(into, count);
      memory.ints(classes, count).forEach((number, at) => {
        mapped[at] = number < 0 ? 0 : word(map, number);
      });
    },
    writeAnswers(rows, numbers, count, answerOf, into) {
      for (let at = 0; at < count; at++) {
        const row = rowAt(rows, at);
        memory.bytes(into, row + 1)[row] = byte(answerOf, word(numbers, at));
      }
    },
  };
}
