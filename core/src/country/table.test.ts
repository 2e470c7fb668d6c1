import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Address, findInterval, intervalsOf } from '../address/index.js';
import { codeInTable, countryTable, findInTable } from './table.js';

/** Disjoint intervals from numbers in order, taken two and two. */
const bounds = fc
  .uniqueArray(fc.nat(0xffffffff), { maxLength: 60 })
  .map((numbers) => numbers.sort((a, b) => a - b))
  .map((numbers) => numbers.slice(0, numbers.length & ~1));

const starts = (all: readonly number[]) => all.filter((_, at) => at % 2 === 0);
const ends = (all: readonly number[]) => all.filter((_, at) => at % 2 === 1);
const codes = (all: readonly number[]) => Uint16Array.from({ length: all.length / 2 }, (_, at) => (at * 7) % 11);

it('finds the interval of IPv4 addresses as a plain search does, with its code', () => {
  fc.assert(
    fc.property(bounds, fc.array(fc.nat(0xffffffff)), (all, others) => {
      const intervals = intervalsOf(4, Uint32Array.from(starts(all)), Uint32Array.from(ends(all)));
      const table = countryTable(intervals, codes(all));
      for (const value of [...all, ...all.map((each) => (each + 1) >>> 0), ...others]) {
        const address: Address = { family: 4, value };
        const found = findInTable(table, address);
        expect([value, found]).toEqual([value, findInterval(intervals, address)]);
        if (found >= 0) expect(codeInTable(table, found)).toBe((found * 7) % 11);
      }
    }),
  );
});

it('finds that of IPv6 addresses, whichever word distinguishes them', () => {
  fc.assert(
    fc.property(bounds, fc.nat(3), fc.array(fc.nat(0xffffffff)), (all, word, others) => {
      const words = (value: number) => [0, 1, 2, 3].map((at) => (at < word ? 0x20010db8 : at === word ? value : 0));
      const pack = (values: readonly number[]) => Uint32Array.from(values.flatMap(words));
      const intervals = intervalsOf(6, pack(starts(all)), pack(ends(all)));
      const table = countryTable(intervals, codes(all));
      for (const value of [...all, ...others]) {
        const address = { family: 6, words: words(value) } as unknown as Address;
        expect([value, findInTable(table, address)]).toEqual([value, findInterval(intervals, address)]);
      }
    }),
  );
});
