import type { LiveBody } from '@jade-fence/contract';
import { describe, expect, it } from 'vitest';
import { ratesOf, sampleOf } from './rates.js';

const live = (...counts: [verdict: string, role: 'decided' | 'observed', count: number][]): LiveBody => ({
  revision: 1,
  unrecorded: 0,
  counts: counts.map(([verdict, role, count]) => ({ policy: 'p', rule: 'r', verdict, role, count })),
});

it('counts what was decided, and not what rules would have done', () => {
  const body = live(
    ['allow', 'decided', 5],
    ['uncovered', 'decided', 1],
    ['block', 'decided', 2],
    ['challenge', 'decided', 1],
    ['block', 'observed', 9],
  );
  expect(sampleOf(body, 1000)).toEqual({ at: 1000, allowed: 6, stopped: 3 });
});

describe('rates', () => {
  const sample = (at: number, allowed: number, stopped: number) => ({ at, allowed, stopped });

  it.each([
    ['a second apart', [sample(0, 0, 0), sample(1000, 10, 2)], [{ at: 1000, allowed: 10, stopped: 2 }]],
    ['two seconds apart', [sample(0, 4, 0), sample(2000, 10, 2)], [{ at: 2000, allowed: 3, stopped: 1 }]],
    [
      'over a new start',
      [sample(0, 100, 9), sample(1000, 3, 0), sample(2000, 4, 0)],
      [{ at: 2000, allowed: 1, stopped: 0 }],
    ],
    ['of one look', [sample(0, 1, 1)], []],
    ['of two looks at a time', [sample(5, 1, 1), sample(5, 2, 2)], []],
  ])('%s', (_, samples, rates) => {
    expect(ratesOf(samples)).toEqual(rates);
  });
});
