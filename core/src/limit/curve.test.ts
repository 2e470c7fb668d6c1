import fc from 'fast-check';
import { expect, it } from 'vitest';
import { KeyPeaks } from './curve.js';
import { SlidingWindows } from './window.js';

it('reports at each threshold how many keys a limit would find over', () => {
  const event = fc.record({
    key: fc.constantFrom('a', 'b', 'c', 'd'),
    gap: fc.integer({ min: 0, max: 400 }),
    amount: fc.integer({ min: 1, max: 9 }),
  });
  fc.assert(
    fc.property(fc.array(event, { maxLength: 60 }), fc.nat(30), (events, given) => {
      const peaks = new KeyPeaks();
      const counting = new SlidingWindows({ moreThan: given, within: 1000, hold: 0, peaks });
      const run = (windows: SlidingWindows) => {
        let time = 0;
        for (const { key, gap, amount } of events) {
          time += gap;
          windows.add(key, time, amount);
        }
        return windows.peaks(0).keys;
      };
      run(counting);
      const curve = peaks.curve(given);
      expect(curve.some(({ moreThan }) => moreThan === given)).toBe(true);
      for (const { moreThan, keys } of curve)
        expect([moreThan, keys]).toEqual([moreThan, run(new SlidingWindows({ moreThan, within: 1000, hold: 0 }))]);
    }),
  );
});

it('goes up in round steps to the first that nobody reaches', () => {
  const peaks = new KeyPeaks();
  for (const [key, peak] of [
    ['a', 4],
    ['b', 12],
    ['c', 12],
    ['a', 2],
  ] as const)
    peaks.note(key, peak);
  expect(peaks.curve(1000).map(({ moreThan, keys }) => `${moreThan}: ${keys}`)).toEqual([
    ...['0: 3', '1: 3', '2: 3', '3: 3', '5: 2', '7: 2', '10: 2', '15: 0', '1000: 0'],
  ]);
});
