import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type AddressRange, formatRange, rangeContains } from '../address/index.js';
import { type DomainPattern, patternMatches } from '../domain/index.js';
import { readWorkspace } from '../workspace/index.js';
import type { List } from './list.js';
import { addressesCovered, overlapOf } from './overlap.js';

const listOf = (of: string, entries: readonly string[]): List => {
  const text = `list: a\nof: ${of}\nentries: ${JSON.stringify(entries)}\n`;
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  return workspace.lists.get('a') as List;
};

describe('what a list says twice', () => {
  it('is found among addresses, however they are written', () => {
    const list = listOf('addresses', [
      '10.0.0.0/8',
      '10.1.0.0/16',
      '10.0.0.0-10.255.255.255',
      '192.0.2.1',
      '2001:DB8::1',
      '2001:db8:0::1',
    ]);
    expect(overlapOf(list, undefined)).toEqual({
      duplicates: {
        count: 2,
        some: [
          { entry: '10.0.0.0-10.255.255.255', by: '10.0.0.0/8' },
          { entry: '2001:db8:0::1', by: '2001:DB8::1' },
        ],
      },
      covered: { count: 1, some: [{ entry: '10.1.0.0/16', by: '10.0.0.0/8' }] },
      common: null,
    });
    expect(addressesCovered(list)).toBe(2n ** 24n + 2n);
  });

  it('is found among domains', () => {
    const list = listOf('domains', ['.b.example', 'a.b.example', 'b.example', '*.c.example', 'c.example', 'B.example']);
    const { duplicates, covered } = overlapOf(list, undefined);
    expect(duplicates.some).toEqual([{ entry: 'B.example', by: 'b.example' }]);
    expect(covered.some.map(({ entry }) => entry)).toEqual(['a.b.example', 'b.example', 'B.example']);
  });

  it('is found with another list too', () => {
    const list = listOf('users', ['ines', 'Rui']);
    expect(overlapOf(list, listOf('users', ['rui', 'sol'])).common).toEqual({
      count: 1,
      some: [{ entry: 'Rui', by: 'rui' }],
    });
  });

  const address = fc.nat(40).map((last) => `10.0.0.${last}`);
  const range = fc.oneof(
    address,
    fc.tuple(fc.nat(40), fc.nat(20)).map(([from, more]) => `10.0.0.${from}-10.0.0.${from + more}`),
    fc.constantFrom('10.0.0.0/29', '10.0.0.0/30', '10.0.0.16/28', '::a00:0/125', '2001:db8::/64', '2001:db8::1'),
  );

  it('is what a plain search of all entries finds, for addresses', () => {
    fc.assert(
      fc.property(fc.array(range, { maxLength: 12 }), fc.array(range, { maxLength: 12 }), (a, b) => {
        const [list, other] = [listOf('addresses', a), listOf('addresses', b)];
        const ranges = (each: List) => each.entries.map(({ value }) => value as AddressRange);
        const within = (inner: AddressRange, outer: AddressRange) =>
          rangeContains(outer, inner.first) && rangeContains(outer, inner.last);
        const { covered, common } = overlapOf(list, other);
        const wider = (inner: AddressRange) =>
          ranges(list).some((outer) => within(inner, outer) && formatRange(inner) !== formatRange(outer));
        expect(covered.count).toBe(ranges(list).filter(wider).length);
        expect(common?.count).toBe(
          ranges(list).filter((inner) => ranges(other).some((outer) => within(inner, outer))).length,
        );
      }),
    );
  });

  const name = fc.constantFrom(
    'a.example',
    '.a.example',
    '*.a.example',
    'x.a.example',
    '.x.a.example',
    '*.x.a.example',
    '.example',
    'b.example',
  );
  const HOSTS = ['a.example', 'x.a.example', 'y.x.a.example', 'z.y.x.a.example', 'b.example', 'c.example'];

  it('covers no host less, for domains, where what is covered is left out', () => {
    fc.assert(
      fc.property(fc.uniqueArray(name, { maxLength: 8 }), (entries) => {
        const list = listOf('domains', entries);
        const covered = new Set(overlapOf(list, undefined).covered.some.map(({ entry }) => entry));
        const matches = (some: readonly { value: unknown }[], host: string) =>
          some.some(({ value }) => patternMatches(value as DomainPattern, host));
        const left = list.entries.filter(({ text }) => !covered.has(text));
        for (const host of HOSTS) expect(matches(left, host)).toBe(matches(list.entries, host));
      }),
    );
  });
});
