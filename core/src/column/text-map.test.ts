import fc from 'fast-check';
import { expect, it } from 'vitest';
import { TextMap } from './text-map.js';

const text = fc.constantFrom(
  '',
  'a',
  'b'.repeat(8191),
  'b'.repeat(8192),
  'b'.repeat(8193),
  `${'b'.repeat(8192)}c`,
  'b'.repeat(20_000),
);

it('is a map, for texts of any length', () => {
  const step = fc.tuple(fc.constantFrom('set', 'delete'), text, fc.nat(9));
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
      const [map, plain] = [new TextMap<number>(), new Map<string, number>()];
      for (const [what, key, value] of steps) {
        if (what === 'set') map.set(key, value);
        else map.delete(key);
        if (what === 'set') plain.set(key, value);
        else plain.delete(key);
        expect([map.size, map.get(key)]).toEqual([plain.size, plain.get(key)]);
      }
      expect(new Map(map.entries())).toEqual(plain);
      expect([...map.values()].sort()).toEqual([...plain.values()].sort());
    }),
  );
});
