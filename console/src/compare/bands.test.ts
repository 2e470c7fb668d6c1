import fc from 'fast-check';
import { expect, it } from 'vitest';
import { bandsOf } from './bands.js';

const ORDER = ['allow', 'block', 'redirect', 'uncovered'] as const;
const change = fc.record({
  was: fc.constantFrom(...ORDER),
  is: fc.constantFrom(...ORDER),
  requests: fc.integer({ min: 1, max: 1e7 }),
});
const changes = fc.uniqueArray(change, { selector: ({ was, is }) => `${was} ${is}`, minLength: 1 });

it('are apart on both sides, within the height, and higher the more requests they have', () => {
  fc.assert(
    fc.property(changes, (given) => {
      const bands = bandsOf(given, ORDER, 180);
      for (const side of ['left', 'right'] as const) {
        const sorted = [...bands].sort((a, b) => a[side] - b[side]);
        sorted.forEach((band, at) => {
          const before = sorted[at - 1];
          if (before) expect(band[side]).toBeGreaterThanOrEqual(before[side] + before.height - 1e-6);
          expect(band[side]).toBeGreaterThanOrEqual(0);
          expect(band[side] + band.height).toBeLessThanOrEqual(180 + 1e-6);
        });
      }
      for (const [at, { requests, height }] of bands.entries())
        for (const other of bands.slice(at))
          expect(Math.sign(height - other.height) * Math.sign(requests - other.requests)).toBeGreaterThanOrEqual(0);
    }),
  );
});

it('are none where nothing changed', () => {
  expect(bandsOf([], ORDER, 180)).toEqual([]);
});
