import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Kernel } from '../../kernel/index.js';
import type { ClassColumn } from './class-column.js';
import type { ClassSpace } from './class-space.js';
import { CrossProduct, FAR_WORDS } from './cross-product.js';
import { KernelRows } from './kernel-rows.js';

/** Classes whose vectors are a word of what holds and the same word of what may, so that nothing is unsure. */
const spaceOf = (holds: readonly number[]): ClassSpace => ({
  count: holds.length,
  combined: Uint32Array.from(holds.flatMap((word) => [word, word])),
  stride: 2,
  mark: () => 0,
});

function crossed(product: CrossProduct, kernel: Kernel, pairs: readonly (readonly [number, number])[]): number[] {
  const plain = (side: 0 | 1): ClassColumn => ({ codes: Uint32Array.from(pairs, (pair) => pair[side]) });
  const codes = Uint32Array.from(pairs, (_, at) => at);
  const coded = (side: 0 | 1): ClassColumn => ({
    codes: codes.slice(),
    classes: Int32Array.from(pairs, (pair) => pair[side]),
  });
  const shown = (left: ClassColumn, right: ClassColumn) => {
    const kernelRows = new KernelRows(kernel, pairs.length);
    const numbers = kernelRows.numbers(
      kernelRows.classes(product.cross(kernelRows.column(left), kernelRows.column(right), kernelRows)),
    );
    return [...numbers].map((number) => product.combined[number * product.stride] as number);
  };
  const sides = [plain(0), coded(0)].flatMap((left) => [plain(1), coded(1)].map((right) => shown(left, right)));
  // Of columns that share codes the classes are crossed code by code.
  sides.push(shown({ ...coded(0), codes }, { ...coded(1), codes }));
  for (const side of sides) expect(side).toEqual(sides[0]);
  return sides[0] as number[];
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
      const kernel = new Kernel();
      const product = new CrossProduct(spaceOf(left), spaceOf(right), 1);
      const expected = pairs.map(([a, b]) => (left[a] as number) & (right[b] as number));
      // Twice: the second time all pairs are known.
      expect(crossed(product, kernel, pairs)).toEqual(expected);
      expect(crossed(product, kernel, pairs)).toEqual(expected);
      expect(product.size).toBeGreaterThan(Math.min(classes ** 2, new Set(pairs.map(String)).size * FAR_WORDS));
      // The memory of the table is given back, and a new one is made where it is needed again.
      product.release(kernel);
      expect(crossed(product, kernel, pairs)).toEqual(expected);
    }),
    { numRuns: 20 },
  );
});
