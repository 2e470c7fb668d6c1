import fc from 'fast-check';
import { expect, it } from 'vitest';
import { CodeTest, type RowTest, rowsThatHold, SpanTest, UnseenTest } from './row-test.js';

const ROWS = 10_000;
const codes = Uint32Array.from({ length: ROWS }, (_, row) => (row * 7919) % 5);
const values = Float64Array.from({ length: ROWS }, (_, row) => (row % 9 === 0 ? Number.NaN : (row * 31) % 600));

/** A test, with what it means for a row by itself. */
const tested: fc.Arbitrary<readonly [RowTest, (row: number) => boolean]> = fc.oneof(
  fc
    .uint8Array({ minLength: 5, maxLength: 5, max: 1 })
    .map((wanted) => [new CodeTest(codes, wanted), (row: number) => wanted[codes[row] as number] === 1] as const),
  fc
    .tuple(fc.nat(600), fc.nat(600))
    .map(
      ([least, below]) =>
        [
          new SpanTest(values, least, below),
          (row: number) => (values[row] as number) >= least && (values[row] as number) < below,
        ] as const,
    ),
  fc.constant([new UnseenTest(values), (row: number) => Number.isNaN(values[row])] as const),
);

it('finds the rows that hold every test, from one row to another and no more than requested', () => {
  const most = fc.oneof(fc.nat(50), fc.constant(Number.POSITIVE_INFINITY));
  fc.assert(
    fc.property(fc.array(tested, { maxLength: 3 }), fc.nat(ROWS), fc.nat(ROWS), most, (all, from, to, many) => {
      const expected: number[] = [];
      for (let row = from; row < to && expected.length < many; row++)
        if (all.every(([, holds]) => holds(row))) expected.push(row);
      expect(
        rowsThatHold(
          all.map(([test]) => test),
          from,
          to,
          many,
        ),
      ).toEqual(expected);
    }),
    { numRuns: 200 },
  );
});
