import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FEW_WORDS, groupClauses } from './group.js';
import { bitsIn, setVectorBit, wordsFor } from './vector.js';

/** The clauses' sources, clause by clause, as vectors of clauses, source by source. */
function testedBySource(sourcesOf: readonly (readonly number[])[], sources: number): Uint32Array[] {
  const tested = Array.from({ length: sources }, () => new Uint32Array(wordsFor(sourcesOf.length)));
  sourcesOf.forEach((each, clause) => {
    for (const source of each) setVectorBit(tested[source] as Uint32Array, clause);
  });
  return tested;
}

describe('clauses', () => {
  const few = FEW_WORDS * 32;
  const sourcesOf = (clauses: number) =>
    fc.array(fc.uniqueArray(fc.nat(8), { maxLength: 3 }), { minLength: clauses, maxLength: clauses + 80 });

  it.each([1, few + 1])('are each in one group, with all sources that they are tested on: %i and more', (clauses) => {
    fc.assert(
      fc.property(sourcesOf(clauses), (made) => {
        const groups = groupClauses(testedBySource(made, 9), made.length);
        expect(groups.length).toBeLessThanOrEqual(12);
        const grouped = groups.flatMap(({ clauses: own, sources }) =>
          bitsIn(own).map((clause) => ({ clause, sources })),
        );
        const tested = made.flatMap((sources, clause) => (sources.length > 0 ? [clause] : []));
        expect(grouped.map(({ clause }) => clause).sort((a, b) => a - b)).toEqual(tested);
        for (const { clause, sources } of grouped)
          expect(sources).toEqual(expect.arrayContaining(made[clause] as number[]));
      }),
    );
  });

  it('that test the same sources are together, and with those that test more of them', () => {
    const many = Array.from({ length: few + 20 }, (_, clause) => [[0, 1], [2], [1], [2, 3]][clause % 4] as number[]);
    const groups = groupClauses(testedBySource(many, 4), many.length);
    expect(groups.map(({ sources }) => sources)).toEqual([
      [0, 1],
      [2, 3],
    ]);
  });

  it('are one group where they are few', () => {
    expect(groupClauses(testedBySource([[0], [1, 2], []], 3), 3).map(({ sources }) => sources)).toEqual([[0, 1, 2]]);
  });

  it('that are tested on nothing are in none', () => {
    expect(groupClauses([], 3)).toEqual([]);
  });
});
