import fc from 'fast-check';
import { expect, it } from 'vitest';
import { hostileText } from '../hostile/text.arbitrary.js';
import { tupleKey, tupleOf } from './tuple-key.js';

const texts = fc.array(fc.option(hostileText, { nil: undefined }), { maxLength: 4 });

it('has a key of its own for each tuple, whatever the texts hold', () => {
  fc.assert(
    fc.property(texts, texts, (a, b) => {
      expect(tupleOf(tupleKey(a))).toEqual(a);
      expect(tupleKey(a) === tupleKey(b)).toBe(JSON.stringify(a) === JSON.stringify(b));
    }),
    { numRuns: 3000 },
  );
  expect(tupleKey([undefined, '-'])).not.toBe(tupleKey(['-', undefined]));
  expect(tupleKey(['', undefined])).not.toBe(tupleKey([undefined, '']));
});
