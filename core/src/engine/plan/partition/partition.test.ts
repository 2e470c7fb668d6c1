import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Address,
  type AddressRange,
  addressSet,
  formatAddress,
  parseAddress,
  setContains,
  tryRange,
} from '../../../address/index.js';
import { classOf, partition } from './partition.js';

const range = (text: string) => tryRange(text) as AddressRange;
/** A small part of each family, so that intervals meet often. */
const four = fc.nat(40).map((at) => `10.0.0.${at}`);
const six = fc.nat(40).map((at) => `2001:db8::${at.toString(16)}`);
const interval = fc.oneof(fc.tuple(four, four), fc.tuple(six, six)).map((ends) => {
  const [a, b] = ends.map((text) => parseAddress(text) as Address) as [Address, Address];
  const ordered = formatOrder(a) <= formatOrder(b) ? [a, b] : [b, a];
  return range(ordered.map(formatAddress).join('-'));
});
const formatOrder = (address: Address): number => (address.family === 4 ? address.value : address.words[3]);
const PROBES = [...fc.sample(four, 60), ...fc.sample(six, 60), '192.0.2.1', '::', '255.255.255.255'].map(
  (text) => parseAddress(text) as Address,
);

describe('a partition', () => {
  // 32, 64 and what lies around them are where sets are counted in words.
  it.each([0, 1, 2, 31, 32, 33, 63, 64, 65, 66, 100, 130])('of %i sets finds the sets of every address', (count) => {
    const sets = fc.array(fc.array(interval, { maxLength: 4 }), { minLength: count, maxLength: count });
    fc.assert(
      fc.property(sets, (ranges) => {
        const made = ranges.map((each) => addressSet(each));
        const parted = partition(made);
        for (const address of PROBES) {
          const expected = made.flatMap((set, number) => (setContains(set, address) ? [number] : []));
          expect(parted.classes[classOf(parted, address)]?.sets, formatAddress(address)).toEqual(expected);
        }
        const shown = parted.classes.map(({ sets: held }) => held.join());
        expect(new Set(shown).size).toBe(shown.length);
      }),
      { numRuns: count > 60 ? 20 : 60 },
    );
  });

  it('of many sets that hold one address each and all, in any choice of them', () => {
    const sets = Array.from({ length: 65 }, (_, number) =>
      addressSet([range(`10.0.${number}.0/24`), range('10.9.0.0/16')]),
    );
    const some = fc.subarray([...sets.keys()], { minLength: 1 });
    fc.assert(
      fc.property(some, (chosen) => {
        // One address that just the chosen sets hold.
        const own = sets.map((set, number) =>
          chosen.includes(number) ? addressSet([range(`10.0.${number}.0/24`), range('198.18.0.1')]) : set,
        );
        const parted = partition(own);
        expect(parted.classes[classOf(parted, parseAddress('198.18.0.1') as Address)]?.sets).toEqual(chosen);
      }),
      { numRuns: 200 },
    );
  });
});
