import fc from 'fast-check';
import { expect, it } from 'vitest';
import { ContentHash } from './content-hash.js';

const PART = 64 * 1024;

function hashOf(bytes: Uint8Array, cuts: readonly number[] = []): string {
  const hash = new ContentHash();
  const ends = [...cuts.map((cut) => cut % (bytes.length + 1)).sort((a, b) => a - b), bytes.length];
  ends.forEach((end, at) => {
    hash.update(bytes.subarray(at === 0 ? 0 : ends[at - 1], end));
  });
  return hash.digest();
}

const log = (length: number) => Buffer.alloc(length, 'GET /map 200\n');

it('is the same in whatever pieces a log comes', () => {
  fc.assert(
    fc.property(fc.constantFrom(0, 1, 40, PART, PART + 1, 3 * PART), fc.array(fc.nat(4 * PART)), (length, cuts) => {
      expect(hashOf(log(length), cuts)).toBe(hashOf(log(length)));
    }),
  );
});

it('is another one where a byte differs, is there more or less, or parts are in another order', () => {
  const bytes = Buffer.concat([log(PART), log(PART + 7)]);
  const changed = Buffer.from(bytes);
  changed[PART + 3] = 33;
  const others = [changed, bytes.subarray(1), bytes.subarray(0, -1), Buffer.concat([bytes, Buffer.alloc(1)])];
  const swapped = Buffer.concat([
    changed.subarray(PART, 2 * PART),
    changed.subarray(0, PART),
    changed.subarray(2 * PART),
  ]);
  expect(new Set([bytes, ...others, swapped].map((each) => hashOf(each))).size).toBe(6);
});
