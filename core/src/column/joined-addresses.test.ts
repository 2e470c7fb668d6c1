import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Address, compareAddresses, formatAddress } from '../address/index.js';
import {
  AddressColumnBuilder,
  addressCodes,
  addressOf,
  codeOffsets,
  joinAddresses,
  joinDictionaries,
} from './index.js';

const address: fc.Arbitrary<Address> = fc.oneof(
  fc.constantFrom(0, 1, 7, 2 ** 31, 2 ** 32 - 1).map((value): Address => ({ family: 4, value })),
  fc.constantFrom(0, 1, 2 ** 32 - 1).map((last): Address => ({ family: 6, words: [0x20010db8, 0, 0, last] })),
);

it('holds for each row what the dictionary that it takes from has, each address once and in order', () => {
  const dictionary = fc.array(address, { maxLength: 6 });
  const taken = fc.array(fc.tuple(fc.nat(2), fc.nat(6)), { maxLength: 20 });
  fc.assert(
    fc.property(fc.array(dictionary, { minLength: 1, maxLength: 3 }), taken, (all, rows) => {
      const dictionaries = all.map((addresses) => ({
        four: Uint32Array.from(addresses.flatMap((each) => (each.family === 4 ? [each.value] : []))),
        six: Uint32Array.from(addresses.flatMap((each) => (each.family === 6 ? each.words : []))),
      }));
      const offsets = codeOffsets(dictionaries);
      const picked = rows.map(([which, code]) => {
        const from = dictionaries[which % dictionaries.length] as (typeof dictionaries)[number];
        return { from, which: which % dictionaries.length, code: code % addressCodes(from) };
      });
      const codes = Uint32Array.from(picked, ({ which, code }) => (code === 0 ? 0 : (offsets[which] as number) + code));
      const column = joinAddresses(dictionaries, codes);
      const shown = (each: Address | undefined) => each && formatAddress(each);
      expect(picked.map((_, row) => shown(addressOf(column, column.codes[row] as number)))).toEqual(
        picked.map(({ from, code }) => shown(addressOf(from, code))),
      );
      const distinct = Array.from(
        { length: addressCodes(column) - 1 },
        (_, at) => addressOf(column, at + 1) as Address,
      );
      expect(new Set(distinct.map(formatAddress)).size).toBe(distinct.length);
      expect([...distinct].sort(compareAddresses)).toEqual(distinct);
      expect([...new Set(column.codes)].filter((code) => code > 0)).toHaveLength(distinct.length);
    }),
    { numRuns: 500 },
  );
});

it('is what growing a column row by row gives', () => {
  const builder = new AddressColumnBuilder(3);
  builder.set(0, { family: 6, words: [1, 2, 3, 4] });
  builder.set(2, { family: 4, value: 9 });
  const { four, six, codes } = builder.build(3);
  expect([[...four], [...six], [...codes]]).toEqual([[9], [1, 2, 3, 4], [2, 0, 1]]);
});

it('keeps more addresses apart than fit into any number of bits that a sort might pack them in', () => {
  // Seventeen dictionaries of 65,536 addresses each, as many policies with trust of their own make of one chunk.
  const dictionaries = Array.from({ length: 17 }, (_, number) => ({
    four: Uint32Array.from({ length: 65_536 }, (__, at) => Math.imul(at * 17 + number, 0x9e3779b1) >>> 0),
    six: new Uint32Array(0),
  }));
  const { four, codes } = joinDictionaries(dictionaries);
  const expected = new Set(dictionaries.flatMap(({ four: own }) => [...own]));
  expect(four.length).toBe(expected.size);
  let wrong = 0;
  let at = 1;
  for (const { four: own } of dictionaries)
    for (const value of own) if (four[(codes[at++] as number) - 1] !== value) wrong++;
  expect(wrong).toBe(0);
  for (let place = 1; place < four.length; place++) if ((four[place - 1] as number) >= (four[place] as number)) wrong++;
  expect(wrong).toBe(0);
});
