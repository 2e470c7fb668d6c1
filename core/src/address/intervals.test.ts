import fc from 'fast-check';
import { expect, it } from 'vitest';
import { intervalsOf, lastStartFour, lastStartsFour } from './intervals.js';

it('finds the intervals of many addresses as one by one, in any order', () => {
  const numbers = fc.uniqueArray(fc.nat(0xffffffff), { maxLength: 50 }).map((all) => all.sort((a, b) => a - b));
  fc.assert(
    fc.property(numbers, fc.array(fc.nat(0xffffffff)), fc.boolean(), (starts, others, ordered) => {
      const intervals = intervalsOf(4, Uint32Array.from(starts), Uint32Array.from(starts));
      const values = [...starts, ...others];
      if (ordered) values.sort((a, b) => a - b);
      const found = new Int32Array(values.length + 2).fill(-7);
      lastStartsFour(intervals, Uint32Array.from(values), found, 1);
      expect([...found]).toEqual([-7, ...values.map((value) => lastStartFour(intervals, value)), -7]);
      // And as a plain search through all of them.
      const plain = (value: number) => starts.filter((start) => start <= value).length - 1;
      expect([...found.subarray(1, -1)]).toEqual(values.map(plain));
    }),
  );
});
