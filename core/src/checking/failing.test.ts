import { expect, it } from 'vitest';
import { failingCells, failingChange } from './failing.js';
import type { CheckedCell, CheckedGrid } from './run-checks.js';

const grid = (check: string, holds: Readonly<Record<string, boolean>>): CheckedGrid =>
  ({
    check,
    cells: Object.entries(holds).map(([probe, isAsExpected]) => ({ probe, destination: 'shop', holds: isAsExpected })),
  }) as unknown as CheckedGrid;

it('are named by check, probe and destination', () => {
  const failing = failingCells([grid('one', { a: false, b: true }), grid('two', { a: false })]);
  expect([...failing.keys()]).toEqual(['one: a at shop', 'two: a at shop']);
  expect((failing.get('two: a at shop') as CheckedCell).probe).toBe('a');
});

it.each([
  [[], ['x'], ['x'], []],
  [['x'], [], [], ['x']],
  [['x', 'y'], ['y', 'z'], ['z'], ['x']],
  [['x'], ['x'], [], []],
])('from %j to %j: %j began and %j were mended', (before, now, began, mended) => {
  expect(failingChange(before, now)).toEqual({ began, mended });
});
