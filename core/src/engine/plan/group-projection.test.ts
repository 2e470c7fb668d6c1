import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { ClassSpace } from './class-space.js';
import { GroupProjection } from './group-projection.js';

const WORDS = 3;
const word = fc.oneof(fc.constantFrom(0, 1, 0x80000000, 0xffffffff), fc.integer({ min: 0, max: 0xffffffff }));
/** A class: which clauses match, which of the others may, and the mark of what is unseen. */
const classOf = fc.record({
  match: fc.array(word, { minLength: WORDS, maxLength: WORDS }),
  may: fc.array(word, { minLength: WORDS, maxLength: WORDS }),
  mark: fc.integer({ min: 1, max: 3 }),
});
type Class = typeof classOf extends fc.Arbitrary<infer T> ? T : never;

function spaceOf(classes: readonly Class[]): ClassSpace {
  const combined = Uint32Array.from(
    classes.flatMap(({ match, may }) => [...match, ...match.map((each, at) => each | (may[at] as number))]),
  );
  return { count: classes.length, combined, stride: 2 * WORDS, mark: (number) => (classes[number] as Class).mark };
}

/** The class as the group sees it: its clauses alone, and what is unseen where one of them is unsure. */
function seenBy(group: readonly number[], { match, may, mark }: Class): string {
  const own = match.map((each, at) => (each & (group[at] as number)) >>> 0);
  const possible = match.map((each, at) => ((each | (may[at] as number)) & (group[at] as number)) >>> 0);
  const isUnsure = own.some((each, at) => each !== possible[at]);
  return JSON.stringify([own, possible, isUnsure ? mark : 0]);
}

it('numbers classes alike where the group cannot distinguish them, also those that come later', () => {
  fc.assert(
    fc.property(
      fc.array(classOf, { minLength: 1, maxLength: 40 }),
      fc.array(word, { minLength: WORDS, maxLength: WORDS }),
      fc.nat({ max: 40 }),
      (classes, group, first) => {
        fc.pre(group.some((each) => each !== 0));
        // Often the same, so that some come up that are.
        const all = [...classes, ...classes.map((each) => ({ ...each, match: each.match.toReversed() })), ...classes];
        let known = Math.max(1, first % all.length);
        const whole = spaceOf(all);
        const growing: ClassSpace = {
          ...whole,
          get count() {
            return known;
          },
        };
        const projection = new GroupProjection(growing, Uint32Array.from(group));
        const before = [...projection.numbers().subarray(0, known)];
        known = all.length;
        const numbers = [...projection.numbers().subarray(0, known)];
        expect(numbers.slice(0, before.length)).toEqual(before);
        const expected = new Map<string, number>();
        for (const each of all) {
          const seen = seenBy(group, each);
          expected.set(seen, expected.get(seen) ?? expected.size);
        }
        expect(numbers).toEqual(all.map((each) => expected.get(seenBy(group, each))));
        expect(projection.count).toBe(expected.size);
        for (const [at, number] of numbers.entries()) {
          const isUnsure = JSON.parse(seenBy(group, all[at] as Class))[2];
          expect(projection.mark(number)).toBe(isUnsure);
        }
      },
    ),
    { numRuns: 300 },
  );
});
