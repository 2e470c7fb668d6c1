import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Column, type ColumnTable, decodeTable, encodeTable, numberAt } from './index.js';

/** A column of the numbers, as it is read back. */
function stored(values: readonly number[]) {
  const columns = new Map<string, Column>([['n', { type: 'number', values: Float64Array.from(values) }]]);
  const table: ColumnTable = decodeTable(encodeTable({ rows: values.length, columns }));
  const column = table.columns.get('n');
  if (column?.type !== 'number') throw new Error('it is a column of numbers');
  return column;
}

const few = fc.constantFrom(Number.NaN, 22, 53, 80, 200, 276);
const many = fc.oneof(few, fc.integer({ min: -70_000, max: 70_000 }), fc.constantFrom(0.5, -0, 2 ** 51, 2 ** 60));

it.each([
  ['of few values near each other', few],
  ['of any size', many],
])('numbers %s come back, all at once and one by one', (_, value) => {
  fc.assert(
    fc.property(fc.array(value, { minLength: 1 }), (values) => {
      expect([...stored(values).values]).toEqual(values);
      const column = stored(values);
      expect(values.map((_, row) => numberAt(column, row))).toEqual(values);
    }),
  );
});

it('distinguishes rows by codes just where they hold something else, without making numbers of them', () => {
  fc.assert(
    fc.property(fc.array(few, { minLength: 1 }), (values) => {
      const coded = stored(values).coded?.();
      // Numbers that follow one behind the other are stored by their steps, and have no codes.
      if (coded === undefined) return;
      const { codes, count } = coded;
      expect(codes.length).toBe(values.length);
      for (const [row, code] of codes.entries()) {
        expect(code).toBeLessThan(count);
        for (const [other, value] of values.entries())
          expect(codes[other] === code).toBe(Object.is(value, values[row]));
      }
    }),
  );
});

it('has codes of ports and statuses, which are few', () => {
  expect(stored([443, 443, 443]).coded?.()).toMatchObject({ count: 1 });
  expect(stored([200, 404, 200, Number.NaN]).coded?.()?.codes).toEqual(Uint32Array.of(0, 204, 0, 255));
  expect(stored([1, 2, 3, 4]).coded?.()).toBeUndefined();
  expect(stored([0, 70_000]).coded?.()).toBeUndefined();
});
