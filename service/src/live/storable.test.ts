import fc from 'fast-check';
import { expect, it } from 'vitest';
import { storableJson } from './storable.js';

const wild = fc.string({
  unit: fc.constantFrom('a', '\0', '\uD800', '\uDC00', '\uD83C\uDF3F', '\\u0000', '\\', '"', '\n', 'é'),
});

it('is JSON without NUL or halves of pairs, and else what was given', () => {
  fc.assert(
    fc.property(
      fc.array(fc.dictionary(wild, fc.oneof(wild, fc.integer(), fc.constant(null), fc.array(wild)))),
      (value) => {
        const text = storableJson(value);
        expect(text).not.toMatch(/[^\\](\\\\)*\\u(0000|d[89ab][0-9a-f]{2})/i);
        // Node writes halves of pairs so, too.
        const clean = (each: string) => Buffer.from(each).toString().replaceAll('\0', '\uFFFD');
        // Names that come to the same are one, of which the last counts, as in every object.
        const cleaned = (given: unknown): unknown => {
          if (typeof given === 'string') return clean(given);
          if (Array.isArray(given)) return given.map(cleaned);
          if (given === null || typeof given !== 'object') return given;
          return Object.fromEntries(Object.entries(given).map(([key, each]) => [clean(key), cleaned(each)]));
        };
        expect(JSON.parse(text)).toEqual(cleaned(value));
      },
    ),
    { numRuns: 500 },
  );
});

it('writes instants as JSON does', () => {
  expect(storableJson([{ at: new Date(0), text: '\0' }])).toBe('[{"at":"1970-01-01T00:00:00.000Z","text":"\uFFFD"}]');
});
