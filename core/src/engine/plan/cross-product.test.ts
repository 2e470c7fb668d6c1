import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { ClassColumn } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import { CrossProduct } from './cross-product.js';

/** Classes whose vectors are a word of what holds and the same word of what may, so that nothing is unsure. */
const spaceOf = (holds: readonly number[]): ClassSpace => ({
  count: holds.length,
  combined: Uint32Array.from(holds.flatMap((word) => [word, word])),
  stride: 2,
  mark: () => 0,
});

function crossed(product: CrossProduct, pairs: readonly (readonly [number, number])[]): number[] {
  const shown = (numbers: Iterable<number>) =>
    [...numbers].map((number) => product.combined[number * product.stride] as number);
  const plain = (side: 0 | 1): ClassColumn => ({ codes: Uint32Array.from(pairs, (pair) => pair[side]) });
  const coded = (side: 0 | 1) => ({
    codes: Uint32Array.from(pairs, (_, at) => at),
    classes: Int32Array.from(pairs, (pair) => pair[side]),
  });
  const into = new Uint32Array(pairs.length);
  const [first, ...others] = [plain(0), coded(0)].flatMap((left) =>
    [plain(1), coded(1)].map((right) => {
      product.rows(left, right, pairs.length, into);
      return shown(into);
    }),
  );
  // Classes by row and by code give the same.
  for (const other of [...others, shown(product.codes(coded(0).classes, coded(1).classes))])
    expect(other).toEqual(first);
  return first as number[];
}

it.each([
  ['in a table', 40],
  ['in a map, where there are too many pairs for a table', 5000],
])('leaves of each pair what both leave, %s', (_, classes) => {
  const word = fc.integer({ min: 0, max: 255 });
  const space = fc.array(word, { minLength: classes, maxLength: classes });
  const pair = fc.tuple(fc.nat(classes - 1), fc.nat(classes - 1));
  fc.assert(
    fc.property(space, space, fc.array(pair, { minLength: 1, maxLength: 30 }), (left, right, pairs) => {
      const product = new CrossProduct(spaceOf(left), spaceOf(right), 1);
      const expected = pairs.map(([a, b]) => (left[a] as number) & (right[b] as number));
      // Twice: the second time all pairs are known.
      expect(crossed(product, pairs)).toEqual(expected);
      expect(crossed(product, pairs)).toEqual(expected);
    }),
    { numRuns: 20 },
  );
});
