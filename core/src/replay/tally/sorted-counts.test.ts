import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SortedCounts } from './sorted-counts.js';

const run = fc
  .dictionary(fc.nat(60).map(String), fc.integer({ min: 1, max: 9 }), { maxKeys: 30 })
  .map((counts) => Object.entries(counts).map(([key, count]) => [Number(key), count] as const))
  .map((pairs) => pairs.sort(([a], [b]) => a - b));

it('sums up runs as a map would', () => {
  fc.assert(
    fc.property(fc.array(run, { maxLength: 12 }), (runs) => {
      const sums = new SortedCounts();
      const expected = new Map<number, number>();
      for (const pairs of runs) {
        sums.add({
          keys: Float64Array.from(pairs, ([key]) => key),
          counts: Float64Array.from(pairs, ([, count]) => count),
        });
        for (const [key, count] of pairs) expected.set(key, (expected.get(key) ?? 0) + count);
      }
      const { keys, counts } = sums.sum();
      expect([...keys].map((key, at) => [key, counts[at]])).toEqual([...expected].sort(([a], [b]) => a - b));
    }),
  );
});

it('holds no more counts than came, and goes on from what it is given', () => {
  const sums = new SortedCounts();
  for (let at = 0; at < 100; at++) sums.add({ keys: Float64Array.of(at % 10), counts: Float64Array.of(1) });
  expect(sums.size).toBeLessThanOrEqual(40);
  sums.replace({ keys: Float64Array.of(3), counts: Float64Array.of(7) });
  sums.add({ keys: Float64Array.of(3), counts: Float64Array.of(1) });
  expect([...sums.sum().counts]).toEqual([8]);
});
