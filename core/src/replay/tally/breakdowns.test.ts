import fc from 'fast-check';
import { expect, it } from 'vitest';
import { conditionsHold, type Prepared, pathsOf, subjectOf } from '../../engine/index.js';
import { documents, preparedOf, request } from '../../engine/plan/workspace.arbitrary.js';
import { ChunkBuilder } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import type { Request } from '../../request/index.js';
import { DEFAULT_PATHS } from '../../url/index.js';
import { type Breakdowns, DIMENSIONS, type Dimension } from '../report.js';
import { Run } from '../run.js';
import { Verdicts } from '../verdicts.js';

/** What a request is counted under, by a plain reading. */
function keysOf(made: Request, policy: Policy, prepared: Prepared): Record<Dimension, (string | null)[]> {
  // Categories are counted over all policies, so that paths are read as by a policy that says nothing of them.
  const subject = { ...subjectOf(made, policy, prepared), ...pathsOf(made, DEFAULT_PATHS) };
  const held = (all: Prepared['categories'], none: string) => {
    const truths = [...all].map(([name, conditions]) => ({
      name,
      holds: conditionsHold(conditions, { subject, tags: new Set(), prepared }).holds,
    }));
    const names = truths.filter(({ holds }) => holds === 'match').map(({ name }) => name);
    if (names.length > 0) return names;
    return truths.some(({ holds }) => holds === 'unseen') ? [null] : [none];
  };
  const none = prepared.categories.size + prepared.applications.size === 0;
  return {
    country: [],
    client: [],
    'destination-country': [...(subject.destinationCountries ?? [null])],
    host: [made.host ?? null],
    category: none ? [] : held(prepared.categories, 'uncategorised'),
    application: none ? [] : held(prepared.applications, 'unidentified'),
    method: [made.method ?? null],
    status: [made.status === undefined ? null : String(made.status)],
    hour: [made.time === undefined ? null : new Date(Math.floor(made.time / 3_600_000) * 3_600_000).toISOString()],
  };
}

it('are what counting the requests one by one gives', { timeout: 60_000 }, () => {
  fc.assert(
    fc.property(documents, fc.array(request, { minLength: 1, maxLength: 15 }), (all, requests) => {
      const prepared = preparedOf(all);
      const policy = prepared.workspace.policies.get('p') as Policy;
      const run = new Run(prepared, policy);
      const builder = new ChunkBuilder();
      requests.forEach((each, index) => {
        builder.add(each, index + 1);
      });
      const judged = run.chunk(builder.build());
      const [resolved] = [...run.resolve()];
      const verdicts = new Verdicts((judged ?? resolved?.[1]) as never);
      const counts = new Map<string, number>();
      requests.forEach((each, row) => {
        const keys = keysOf(each, policy, prepared);
        keys.client = [verdicts.client(row)];
        keys.country = [verdicts.country(row)];
        for (const dimension of DIMENSIONS)
          for (const key of keys[dimension])
            for (const what of ['requests', verdicts.outcome(row)?.verdict ?? 'uncovered'])
              counts.set(`${dimension} ${key} ${what}`, (counts.get(`${dimension} ${key} ${what}`) ?? 0) + 1);
      });
      expect(countsBy(run.report().breakdowns)).toEqual(Object.fromEntries([...counts].sort()));
    }),
    { numRuns: 150 },
  );
});

function countsBy(breakdowns: Breakdowns): Record<string, number> {
  const shown = DIMENSIONS.flatMap((dimension) =>
    breakdowns[dimension].rows.flatMap(({ key, ...counts }) =>
      Object.entries(counts)
        .filter(([, count]) => count > 0)
        .map(([what, count]): [string, number] => [`${dimension} ${key} ${what}`, count]),
    ),
  );
  return Object.fromEntries(shown.sort());
}
