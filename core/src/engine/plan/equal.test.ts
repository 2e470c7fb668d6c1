import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Policy } from '../../policy/index.js';
import { decidesAlike, replaysAlike } from './equal.property.js';
import { FEW_WORDS } from './group.js';
import { compilePlan } from './plan.js';
import { documents, preparedOf, wideDocuments } from './workspace.arbitrary.js';

/** The fuzzing looks longer, with another seed every time. */
const RUNS = Number(process.env.PROPERTY_RUNS ?? 150);
const MOST_TIME = 120_000 + RUNS * 400;

describe.each([
  ['of every field', documents, RUNS],
  ['of many rules', wideDocuments, Math.ceil(RUNS / 8)],
])('the plan decides as the reference does, for workspaces %s', (_, documents, numRuns) => {
  it('request by request', { timeout: MOST_TIME }, () => {
    fc.assert(decidesAlike(documents), { numRuns });
  });

  it('in a replay, whatever the order of the log and however it is cut into chunks, counts alike', {
    timeout: MOST_TIME,
  }, () => {
    fc.assert(replaysAlike(documents), { numRuns });
  });
});

it('takes few clauses as one group, and many in several: both are among the cases', () => {
  const words = (made: fc.Arbitrary<unknown[]>) =>
    fc.sample(made, { numRuns: 20, seed: 1 }).map((all) => {
      const prepared = preparedOf(all);
      return compilePlan(prepared.workspace.policies.get('p') as Policy, prepared).clauseWords;
    });
  expect(Math.max(...words(documents))).toBeLessThanOrEqual(FEW_WORDS);
  expect(Math.min(...words(wideDocuments))).toBeGreaterThan(FEW_WORDS);
});
