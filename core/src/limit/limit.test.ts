import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SlidingWindows } from './index.js';

describe('a sliding window', () => {
  it('is over when more requests than the limit lie in the span, the request itself included', () => {
    const windows = new SlidingWindows({ moreThan: 2, within: 1000, hold: 0 });
    expect([0, 500, 999, 1000, 1001, 3000].map((time) => windows.add('a', time, 1))).toEqual([
      false,
      false,
      true,
      true,
      true,
      false,
    ]);
  });

  it('holds a key for a while behind the last time that it was over, and keeps keys apart', () => {
    const windows = new SlidingWindows({ moreThan: 1, within: 1000, hold: 5000 });
    expect([0, 10, 5009].map((time) => windows.add('a', time, 1))).toEqual([false, true, true]);
    expect([0, 10, 5010].map((time) => windows.add('c', time, 1))).toEqual([false, true, false]);
    expect(windows.add('b', 5011, 1)).toBe(false);
  });

  it('reports the keys that were over with their highest sum', () => {
    const windows = new SlidingWindows({ moreThan: 10, within: 1000, hold: 0 });
    for (const [key, time, amount] of [
      ['a', 0, 8],
      ['b', 0, 11],
      ['a', 10, 8],
      ['b', 5000, 1],
    ] as const)
      windows.add(key, time, amount);
    expect(windows.peaks(10)).toEqual({
      keys: 2,
      worst: [
        { key: 'a', peak: 16, at: 10 },
        { key: 'b', peak: 11, at: 0 },
      ],
    });
  });

  it('is exact: it says what adding up all that lies in the span says', () => {
    const events = fc.array(
      fc.record({
        key: fc.constantFrom('a', 'b'),
        gap: fc.integer({ min: 0, max: 400 }),
        amount: fc.integer({ min: 1, max: 5 }),
      }),
      { maxLength: 80 },
    );
    fc.assert(
      fc.property(events, fc.integer({ min: 1, max: 12 }), (made, moreThan) => {
        const windows = new SlidingWindows({ moreThan, within: 1000, hold: 0 });
        const seen: { key: string; time: number; amount: number }[] = [];
        let time = 0;
        for (const { key, gap, amount } of made) {
          time += gap;
          seen.push({ key, time, amount });
          const sum = seen
            .filter((each) => each.key === key && each.time > time - 1000)
            .reduce((total, each) => total + each.amount, 0);
          expect(windows.add(key, time, amount)).toBe(sum > moreThan);
        }
      }),
    );
  });

  it('forgets the key that was seen least lately where there are too many, and idle ones', () => {
    const windows = new SlidingWindows({ moreThan: 1, within: 1000, hold: 0, mostKeys: 2 });
    for (const key of ['a', 'b', 'c']) windows.add(key, 0, 1);
    expect(['b', 'c', 'a'].map((key) => windows.add(key, 1, 1))).toEqual([true, true, false]);
  });

  it('takes the oldest two instants for one where a key has too many: never too few are counted', () => {
    const windows = new SlidingWindows({ moreThan: 3, within: 1000, hold: 0, mostInstants: 4 });
    const answers = Array.from({ length: 8 }, (_, at) => windows.add('a', at * 100, 1));
    expect(answers).toEqual([false, false, false, true, true, true, true, true]);
  });
});
