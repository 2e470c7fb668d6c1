import fc from 'fast-check';
import { expect, it } from 'vitest';
import { intervalsOf, lastStartFour } from './intervals.js';

it('finds the last interval that starts at an address or before, as a plain search through all of them', () => {
  const numbers = fc.uniqueArray(fc.nat(0xffffffff), { maxLength: 50 }).map((all) => all.sort((a, b) => a - b));
  fc.assert(
    fc.property(numbers, fc.array(fc.nat(0xffffffff)), (starts, others) => {
      const intervals = intervalsOf(4, Uint32Array.from(starts), Uint32Array.from(starts));
      for (const value of [...starts, ...others])
        expect(lastStartFour(intervals, value)).toBe(starts.filter((start) => start <= value).length - 1);
    }),
  );
});
