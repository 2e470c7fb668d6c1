import { expect, it } from 'vitest';
import { sendingText } from './sending.js';

const MIB = 1024 * 1024;

it.each([
  [0, 200 * MIB, 0, '0 % of 200 MiB sent'],
  [0.25, 200 * MIB, 500, '25 % of 200 MiB sent'],
  [0.25, 200 * MIB, 2000, '25 % of 200 MiB sent, 25 MiB a second, 6 s left'],
  [0.5, 3 * MIB, 3000, '50 % of 3.0 MiB sent, 0.5 MiB a second, 3 s left'],
  [0, 200 * MIB, 5000, '0 % of 200 MiB sent'],
  [1, 200 * MIB, 5000, 'storing …'],
])('tells of %d of %d bytes after %d ms: %s', (share, bytes, elapsed, told) => {
  expect(sendingText(share, bytes, elapsed)).toBe(told);
});
