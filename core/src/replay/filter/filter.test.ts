import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ColumnTable } from '../../column/index.js';
import { documents, preparedOf, request } from '../../engine/plan/workspace.arbitrary.js';
import { ChunkBuilder } from '../../log/index.js';
import { makeRequest, type Request } from '../../request/index.js';
import { Catalogue } from '../catalogue.js';
import { DIMENSIONS, type Dimension } from '../report.js';
import { Run } from '../run.js';
import { Verdicts } from '../verdicts.js';
import { filterRows } from './filter.js';
import type { RequestFilter } from './request-filter.js';
import { filterFaults } from './rows.js';
import {
  clientBlooms,
  clientsMayHold,
  logMayHold,
  pathBloom,
  pathsMayHold,
  summariseLog,
  summariseVerdicts,
  verdictsMayHold,
} from './summary.js';

function chunkOf(requests: readonly Request[]): ColumnTable {
  const builder = new ChunkBuilder();
  requests.forEach((each, index) => {
    builder.add(each, index + 1);
  });
  return builder.build();
}

/** The filter for a key of a breakdown; undefined where there is none. */
function filterFor(dimension: Dimension, key: string | null): RequestFilter | undefined {
  if (dimension === 'destination-country') return { destinationCountry: key ?? 'unseen' };
  if (dimension !== 'hour') return { [dimension]: key ?? 'unseen' };
  return key === null ? undefined : { from: Date.parse(key), to: Date.parse(key) + 3_600_000 };
}

it('finds the requests of every figure of a breakdown', { timeout: 60_000 }, () => {
  fc.assert(
    fc.property(documents, fc.array(request, { minLength: 1, maxLength: 15 }), (all, requests) => {
      const prepared = preparedOf(all);
      const run = new Run(prepared);
      const table = chunkOf(requests);
      const judged = run.chunk(table);
      const judgedTable = (judged ?? [...run.resolve()][0]?.[1]) as ColumnTable;
      const verdicts = new Verdicts(judgedTable);
      const { breakdowns } = run.report();
      const input = { verdicts, table, catalogue: new Catalogue(prepared) };
      const log = summariseLog(table);
      const paths = pathBloom(table);
      const summary = summariseVerdicts(judgedTable);
      const clients = clientBlooms(judgedTable);
      const open = (filter: RequestFilter) =>
        logMayHold(log, filter) &&
        pathsMayHold(paths, filter) &&
        verdictsMayHold(summary, run.slots, filter) &&
        clientsMayHold(clients, filter);
      for (const dimension of DIMENSIONS)
        for (const { key, requests: count } of breakdowns[dimension].rows) {
          const filter = filterFor(dimension, key);
          if (filter)
            expect([dimension, key, filterRows(input, run.slots, filter, 0, 100).length, open(filter)]).toEqual([
              dimension,
              key,
              count,
              true,
            ]);
        }
      // What the summaries rule out is not there.
      for (const filter of RARE)
        if (!open(filter)) {
          passedOver++;
          expect(filterRows(input, run.slots, filter, 0, 100)).toEqual([]);
        }
    }),
    { numRuns: 100 },
  );
  expect(passedOver).toBeGreaterThan(50);
});

let passedOver = 0;
const RARE: readonly RequestFilter[] = [
  { verdict: 'block' },
  { verdict: 'uncovered' },
  { rule: 'r1', role: 'observed' },
  { rule: 'default' },
  { country: 'XA' },
  { country: 'unseen' },
  { destinationCountry: 'XA' },
  { destinationCountry: 'unseen' },
  { destination: '10.0.0.1' },
  { destination: '2001:db8::/32' },
  { client: '10.0.0.1' },
  { client: '198.18.0.1' },
  { client: '2001:db8::1' },
  { client: '10.0.0.0/8' },
  { host: '.example' },
  { host: 'a.example' },
  { method: 'post' },
  { path: '/a' },
  { path: '/nowhere' },
  { path: '/**' },
  { status: '4xx' },
  { status: 'unseen' },
];

describe('what requests say', () => {
  const requests = [
    makeRequest({ host: 'a.example', path: '/x/1', status: 200, time: 1000, peer: { family: 4, value: 0x0a000001 } }),
    makeRequest({ host: 'b.a.example', path: '/x/2', status: 404, time: 2000, method: 'GET' }),
    makeRequest({ host: '[2001:db8::1]', status: 403 }),
  ];
  const run = new Run(preparedOf([{ policy: 'p', default: 'allow', covers: { hosts: ['.example'] } }]));
  const table = chunkOf(requests);
  const verdicts = new Verdicts(run.chunk(table) as ColumnTable);

  it.each<[RequestFilter, number[]]>([
    [{ host: '.a.example' }, [0, 1]],
    [{ host: '*.a.example' }, [1]],
    [{ host: '[2001:db8::1]' }, [2]],
    [{ path: '/x/*' }, [0, 1]],
    [{ path: '~2$' }, [1]],
    [{ path: 'unseen' }, [2]],
    [{ status: '4xx' }, [1, 2]],
    [{ status: '403' }, [2]],
    [{ method: 'get' }, [1]],
    [{ method: 'unseen' }, [0, 2]],
    [{ client: '10.0.0.0/8' }, [0]],
    [{ client: 'unseen' }, [1, 2]],
    [{ from: 1000, to: 2000 }, [0]],
    [{ host: '.example', status: '4xx', from: 1500 }, [1]],
    [{ host: 'none.example' }, []],
  ])('%j', (filter, rows) => {
    expect(filterRows({ verdicts, table }, run.slots, filter, 0, 10)).toEqual(rows);
  });

  it('that are no hosts, paths, clients or statuses are reported all at once', () => {
    const faults = filterFaults({ host: 'a b', path: 'x', client: '300.1.1.1', status: '4x' });
    expect(faults.map(({ field }) => field)).toEqual(['host', 'path', 'client', 'status']);
    expect(filterFaults({ host: 'unseen', path: '/x', client: '10.0.0.0/8', status: '4xx' })).toEqual([]);
  });
});
