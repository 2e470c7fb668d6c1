import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ColumnTable } from '../../column/index.js';
import { documents, preparedOf, request } from '../../engine/plan/workspace.arbitrary.js';
import { ChunkBuilder } from '../../log/index.js';
import { makeRequest, type Request } from '../../request/index.js';
import { Run } from '../run.js';
import { Verdicts } from '../verdicts.js';
import { Comparison } from './comparison.js';
import { filterChanges } from './filter.js';

function replayed(all: readonly unknown[], requests: readonly Request[]) {
  const run = new Run(preparedOf(all as never));
  const builder = new ChunkBuilder();
  requests.forEach((each, index) => {
    builder.add(each, index + 1);
  });
  const judged = run.chunk(builder.build());
  const verdicts = new Verdicts((judged ?? [...run.resolve()][0]?.[1]) as ColumnTable);
  return { slots: run.slots, verdicts };
}

const policy = (rules: readonly object[]) => [
  { policy: 'site', default: 'allow', covers: { hosts: ['.a.example'] }, rules },
];

describe('two replays of a log', () => {
  const requests = ['/a', '/b', '/b', '/c', '/c', '/c'].map((path) => makeRequest({ host: 'a.example', path }));
  requests.push(makeRequest({ host: 'b.example', path: '/b' }));
  const rule = (name: string, path: string, then: string) => ({ rule: name, when: { path }, then });
  const before = replayed(policy([rule('no-c', '/c', 'block')]), requests);
  const after = replayed(policy([rule('no-b', '/b', 'block'), rule('c-too', '/c', 'block')]), requests);
  const comparison = new Comparison(before.slots, after.slots);
  comparison.chunk({ before: before.verdicts, after: after.verdicts });

  it('say what changed, from what to what, and by what', () => {
    expect(comparison.report()).toEqual({
      requests: 7,
      changed: 2,
      decidedElsewhere: 3,
      changes: [{ was: 'allow', is: 'block', requests: 2 }],
      causes: [
        {
          before: { verdict: 'allow', policy: 'site', rule: null },
          after: { verdict: 'block', policy: 'site', rule: 'no-b' },
          requests: 2,
          samples: [2, 3],
        },
      ],
    });
  });

  it.each([
    [{}, [1, 2]],
    [{ was: 'allow', is: 'block' } as const, [1, 2]],
    [{ was: 'block' } as const, []],
    [{ rule: 'no-b' }, [1, 2]],
    [{ rule: 'default', policy: 'site' }, [1, 2]],
    [{ rule: 'no-c' }, []],
  ])('show the requests that %j selects', (filter, rows) => {
    const slots = { before: before.slots, after: after.slots };
    const chunk = { before: before.verdicts, after: after.verdicts };
    expect(filterChanges(chunk, slots, filter, 0, 10)).toEqual(rows);
  });
});

it('says what comparing the decisions one by one says', { timeout: 60_000 }, () => {
  fc.assert(
    fc.property(documents, documents, fc.array(request, { minLength: 1, maxLength: 15 }), (one, other, requests) => {
      const [before, after] = [replayed(one, requests), replayed(other, requests)];
      const comparison = new Comparison(before.slots, after.slots);
      comparison.chunk({ before: before.verdicts, after: after.verdicts });
      const verdict = (side: typeof before, row: number) => side.verdicts.outcome(row)?.verdict ?? 'uncovered';
      const rows = requests.map((_, row) => row).filter((row) => verdict(before, row) !== verdict(after, row));
      const report = comparison.report();
      expect(report.changed).toBe(rows.length);
      expect(report.changes.reduce((sum, each) => sum + each.requests, 0)).toBe(rows.length);
      const slots = { before: before.slots, after: after.slots };
      expect(filterChanges({ before: before.verdicts, after: after.verdicts }, slots, {}, 0, 100)).toEqual(rows);
      const same = replayed(one, requests);
      const none = new Comparison(before.slots, same.slots);
      none.chunk({ before: before.verdicts, after: same.verdicts });
      expect(none.report()).toMatchObject({ changed: 0, decidedElsewhere: 0 });
    }),
    { numRuns: 100 },
  );
});
