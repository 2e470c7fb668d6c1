import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type ColumnTable, encodeTable } from '../column/index.js';
import type { Prepared } from '../engine/index.js';
import { documents, preparedOf, request } from '../engine/plan/workspace.arbitrary.js';
import { ChunkBuilder } from '../log/index.js';
import type { Policy } from '../policy/index.js';
import type { Request } from '../request/index.js';
import { Catalogue } from './catalogue.js';
import { ChunkJudge } from './chunk-judge.js';
import { Coordinator, type ResolvedChunk } from './coordinator.js';
import { selectRows } from './filter/filter.js';
import type { LogFilter } from './filter/request-filter.js';
import type { FinishedChunk } from './finished-chunk.js';
import { Run } from './run.js';
import { type RunOptions, runScope } from './run-scope.js';

const chunksOfRequests = fc.array(fc.array(request, { minLength: 1, maxLength: 8 }), { minLength: 1, maxLength: 6 });

it('gives the same bytes whoever judges which chunk, and in whatever order', { timeout: 60_000 }, () => {
  let waited = 0;
  fc.assert(
    fc.property(
      documents,
      chunksOfRequests,
      fc.integer({ min: 1, max: 3 }),
      fc.infiniteStream(fc.nat()),
      (all, made, judges, dice) => {
        const prepared = preparedOf(all);
        const tables = made.map(tableOf);
        const alone = new Run(prepared, policyOf(prepared));
        const expected = new Map(tables.map((table, number) => [number, alone.chunk(table)]));
        for (const [number, verdicts] of alone.resolve()) expected.set(number, verdicts);

        const again = preparedOf(all);
        const scope = runScope(again, policyOf(again));
        const shared = Array.from({ length: judges }, (_, number) => new ChunkJudge(scope, number));
        const coordinator = new Coordinator(scope);
        const found = new Map<number, ColumnTable>();
        const judgeOf = new Map<number, ChunkJudge>();
        const later = laterTimes(made);
        // What goes from one to another is copied, as it is between threads.
        const finish = (finished: FinishedChunk) => {
          const { number, verdicts, counts } = structuredClone(finished);
          found.set(number, verdicts);
          coordinator.count(number, counts);
        };
        const resolve = (resolved: readonly ResolvedChunk[]) => {
          for (const each of structuredClone(resolved)) {
            waited++;
            finish((judgeOf.get(each.number) as ChunkJudge).resolve(each.number, each.resolved));
          }
        };
        for (const number of shuffled([...tables.keys()], dice)) {
          const judge = shared[dice.next().value % judges] as ChunkJudge;
          judgeOf.set(number, judge);
          const judged = judge.judge(number, tables[number] as ColumnTable);
          if ('verdicts' in judged) finish(judged);
          const pending = 'pending' in judged ? structuredClone(judged.pending) : [];
          resolve(coordinator.rows(number, pending, (each) => later[each] as number));
        }
        expect(found.size).toBe(tables.length);
        for (const [number, verdicts] of expected)
          expect(encodeTable(found.get(number) as ColumnTable)).toEqual(encodeTable(verdicts as ColumnTable));
        expect(JSON.stringify(coordinator.report())).toBe(JSON.stringify(alone.report()));
      },
    ),
    { numRuns: 100 },
  );
  expect(waited, 'chunks that waited for limits').toBeGreaterThan(10);
});

function tableOf(made: readonly Request[]): ColumnTable {
  const builder = new ChunkBuilder();
  made.forEach((each, index) => {
    builder.add(each, index + 1);
  });
  return builder.build();
}

const policyOf = (prepared: Prepared) => prepared.workspace.policies.get('p') as Policy;

/** For each chunk the earliest time of those behind it. */
function laterTimes(chunks: readonly (readonly Request[])[]): number[] {
  return chunks.map((_, number) =>
    chunks
      .slice(number + 1)
      .flat()
      .reduce((least, { time }) => Math.min(least, time ?? least), Number.POSITIVE_INFINITY),
  );
}

function shuffled(numbers: number[], dice: Iterator<number>): number[] {
  return numbers
    .map((number) => ({ number, place: dice.next().value as number }))
    .sort((a, b) => a.place - b.place)
    .map(({ number }) => number);
}

const FILTERS: readonly LogFilter[] = [
  { method: 'GET' },
  { host: '.example' },
  { path: '/**' },
  { status: '4xx' },
  { category: 'uncategorised' },
  { host: 'nowhere.example', category: 'uncategorised' },
];

it('of some requests is what a run of these alone is', { timeout: 60_000 }, () => {
  let less = 0;
  let none = 0;
  fc.assert(
    fc.property(documents, chunksOfRequests, fc.constantFrom(...FILTERS), (all, made, only) => {
      const prepared = preparedOf(all);
      const catalogue = new Catalogue(prepared);
      const kept = made.map((requests) => {
        const rows = selectRows(tableOf(requests), only, catalogue);
        return [...rows].map((row) => requests[row] as Request);
      });
      less += kept.flat().length < made.flat().length ? 1 : 0;
      none += kept[0]?.length === 0 ? 1 : 0;
      const report = (requests: readonly (readonly Request[])[], options: RunOptions) => {
        const run = new Run(prepared, policyOf(prepared), options);
        for (const each of requests) run.chunk(tableOf(each));
        for (const _ of run.resolve());
        return JSON.stringify(run.report());
      };
      expect(report(made, { only })).toBe(report(kept, {}));
    }),
    { numRuns: 80 },
  );
  expect([less > 25, none > 10], 'of which some leave requests out, and some a whole chunk').toEqual([true, true]);
});
