import fc from 'fast-check';
import { expect, it } from 'vitest';
import { WordTable } from './word-table.js';

it('numbers distinct rows in the order in which they come, however many there are', () => {
  const row = fc.tuple(fc.constantFrom(0, 1, 0xffffffff, 0x80000000), fc.nat(9), fc.nat(9));
  fc.assert(
    fc.property(fc.array(row, { maxLength: 300 }), (rows) => {
      const table = new WordTable(3);
      const numbers = new Map<string, number>();
      for (const each of rows) {
        const number = numbers.get(each.join()) ?? numbers.size;
        numbers.set(each.join(), number);
        expect(table.number(Uint32Array.from(each))).toBe(number);
      }
      expect(table.count).toBe(numbers.size);
      for (const [text, number] of numbers)
        expect([...table.rows.subarray(number * 3, number * 3 + 3)].join()).toBe(text);
    }),
  );
});
