import { expect, it } from 'vitest';
import { readingText, sendingText } from './sending.js';

const MIB = 1024 * 1024;

it.each([
  [0, 200 * MIB, 0, '0 % of 200 MiB sent'],
  [0.25, 200 * MIB, 500, '25 % of 200 MiB sent'],
  [0.25, 200 * MIB, 2000, '25 % of 200 MiB sent, 25 MiB a second, 6 s left'],
  [0.5, 3 * MIB, 3000, '50 % of 3.0 MiB sent, 0.5 MiB a second, 3 s left'],
  [0, 200 * MIB, 5000, '0 % of 200 MiB sent'],
  [1, 200 * MIB, 5000, 'taking it in …'],
])('reports %d of %d bytes after %d ms: %s', (share, bytes, elapsed, shown) => {
  expect(sendingText(share, bytes, elapsed)).toBe(shown);
});

const READING = { state: 'running', held: true, done: 50 * MIB, total: 200 * MIB, secondsLeft: null } as const;

it.each([
  [{ state: 'waiting' }, 'waiting for its turn'],
  [{ state: 'waiting', held: false }, 'being sent'],
  [{}, '25 % of 200 MiB read'],
  [{ secondsLeft: 7 }, '25 % of 200 MiB read, 7 s left'],
  [{ total: null }, '50 MiB read'],
] as const)('reports an import %j: %s', (more, shown) => {
  expect(readingText({ ...READING, ...more })).toBe(shown);
});
