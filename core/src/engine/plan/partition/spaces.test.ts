import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { classesOfFour, classOfFour, fourSpace } from './four.js';
import { classesOfSix, classOfSix, sixSpace } from './six.js';

/** Starts of intervals: in all of the space, or close together in a small part of it. */
const startsOf = (many: number, step: number) => {
  const starts = Uint32Array.from({ length: many }, (_, at) => (at === 0 ? 0 : 0x0a000000 + at * step));
  return starts.sort();
};

describe('the IPv4 space', () => {
  // More than 4,096 intervals are kept by halves; more than 65,536 classes need more than two bytes.
  it.each([
    ['few intervals', startsOf(50, 3), 5],
    ['many intervals', startsOf(5000, 70_000), 300],
    ['many intervals that are close together', startsOf(20_000, 2), 20_000],
    ['more classes than two bytes tell apart', startsOf(70_000, 5), 70_000],
    ['the last addresses', Uint32Array.of(0, 0xfffffffe, 0xffffffff), 3],
  ])('of %s: an address has the class of the last interval that starts at it or before', (_, starts, classCount) => {
    const classes = Int32Array.from(starts, (__, at) => (at * 31) % classCount);
    const space = fourSpace(starts, classes, classCount);
    const near = fc.tuple(fc.nat(starts.length - 1), fc.integer({ min: -2, max: 2 })).map(([at, by]) => {
      const value = (starts[at] as number) + by;
      return Math.min(0xffffffff, Math.max(0, value));
    });
    const value = fc.oneof(near, fc.integer({ min: 0, max: 0xffffffff }));
    fc.assert(
      fc.property(fc.array(value, { maxLength: 60 }), fc.boolean(), (all, ordered) => {
        const values = Uint32Array.from(all);
        if (ordered) values.sort();
        const plain = [...values].map((each) => classes[starts.findLastIndex((start) => start <= each)]);
        expect([...values].map((each) => classOfFour(space, each))).toEqual(plain);
        const found = new Int32Array(values.length + 2).fill(-7);
        classesOfFour(space, values, found, 1);
        expect([...found]).toEqual([-7, ...plain, -7]);
      }),
      { numRuns: 15 },
    );
  });
});

it.each([0, 5000])(
  'the IPv6 space: many addresses have the classes that they have one by one: %i more intervals',
  (more) => {
    const others = Array.from({ length: more }, (_, at) => [0x20010db8, at, 0, at & 1]);
    const word = fc.oneof(fc.nat(3), fc.integer({ min: 0, max: 0xffffffff }));
    const address = fc.array(word, { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(fc.array(address, { maxLength: 60 }), fc.array(address, { maxLength: 60 }), (made, probes) => {
        const value = (words: readonly number[]) => words.reduce((sum, each) => (sum << 32n) | BigInt(each), 0n);
        const byValue = new Map([[0, 0, 0, 0], ...others, ...made].map((each) => [value(each), each]));
        const inOrder = [...byValue.keys()].sort((a, b) => (a < b ? -1 : 1));
        const starts = inOrder.map((each) => byValue.get(each) as number[]);
        const space = sixSpace(Uint32Array.from(starts.flat()), Int32Array.from(starts.keys()));
        const all = [...probes, ...starts.slice(0, 100)];
        const plain = all.map((each) => {
          const own = value(each);
          return inOrder.findLastIndex((start) => start <= own);
        });
        expect(
          all.map(([a, b, c, d]) => classOfSix(space, a as number, b as number, c as number, d as number)),
        ).toEqual(plain);
        const found = new Int32Array(all.length + 1).fill(-7);
        classesOfSix(space, Uint32Array.from(all.flat()), found, 1);
        expect([...found]).toEqual([-7, ...plain]);
      }),
      { numRuns: 20 },
    );
  },
);
