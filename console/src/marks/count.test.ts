import { expect, it } from 'vitest';
import { clock } from './clock.js';
import { count, share } from './count.js';

it.each([
  [0, 0, '–'],
  [0, 10, '0.0 %'],
  [1, 3, '33.3 %'],
  [10, 10, '100.0 %'],
  [1, 1001, '<0.1 %'],
  [1, 1000, '0.1 %'],
  [2, 1999, '0.1 %'],
])('the share of %i in %i is %s', (part, whole, expected) => {
  expect(share(part, whole)).toBe(expected);
});

it('parts thousands, and shows instants in UTC', () => {
  expect([count(0), count(999), count(1_234_567)]).toEqual(['0', '999', '1,234,567']);
  expect(clock('2026-11-09T07:31:05.123Z')).toBe('2026-11-09 07:31:05');
});
