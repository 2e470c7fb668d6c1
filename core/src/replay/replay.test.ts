import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ColumnTable } from '../column/index.js';
import { compileCountryData, readCountryCsv } from '../country/index.js';
import { createRouter, evaluate, prepare, subjectOf } from '../engine/index.js';
import { ChunkBuilder } from '../log/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { filterRows, type RequestFilter, Run, Verdicts } from './index.js';

const POLICIES = `
policy: site
default: block
covers: {hosts: [.a.example]}
rules:
  - {rule: no-uploads, when: {path: "/upload/**"}, then: block}
  - {rule: no-posts, when: {method: POST}, then: block, stance: observe}
  - {rule: portugal, when: {country: PT}, then: allow}
  - {rule: never, when: {country: PT, method: POST}, then: block}
  - {rule: idle, when: {method: TRACE}, then: block}
  - {rule: cautious, when: {path: "/secret/**"}, if-blind: match, stance: observe, then: block}
---
policy: offices
default: allow
covers: {clients: [10.0.0.0/8]}
stance: observe
rules:
  - {rule: no-wagering, when: {host: .lucky-petal.example}, then: block}
`;

const { workspace, issues } = readWorkspace([{ name: 'policies.yaml', text: POLICIES }]);
const countryData = compileCountryData(readCountryCsv('198.18.0.0/16,PT\n198.19.0.0/16,ES').networks);
const state = prepare(workspace, { countryData, at: 0 });

function chunkOf(requests: readonly Request[]): ColumnTable {
  const builder = new ChunkBuilder();
  requests.forEach((request, index) => {
    builder.add(request, index + 1);
  });
  return builder.build();
}

const four = (value: number) => ({ family: 4 as const, value });
const PT = four(0xc6120001);
const ES = four(0xc6130001);
const OFFICE = four(0x0a000001);

const REQUESTS = [
  makeRequest({ time: 5000, peer: PT, host: 'www.a.example', method: 'GET', path: '/' }),
  makeRequest({ time: 1000, peer: PT, host: 'www.a.example', method: 'POST', path: '/book' }),
  makeRequest({ time: 2000, peer: ES, host: 'www.a.example', method: 'GET', path: '/upload/x' }),
  makeRequest({ time: 3000, peer: ES, host: 'a.example', method: 'CONNECT' }),
  makeRequest({ time: 4000, peer: OFFICE, host: 'www.lucky-petal.example', method: 'GET', path: '/' }),
  makeRequest({ peer: OFFICE, method: 'GET' }),
  makeRequest({ time: 6000, peer: ES, host: 'elsewhere.example', method: 'GET', path: '/' }),
];

describe('the report', () => {
  const run = new Run(state);
  const verdicts = new Verdicts(run.chunk(chunkOf(REQUESTS)) as ColumnTable);
  const report = run.report();
  const site = report.policies[0]!;

  it('counts by verdict and effect, and what no policy covers', () => {
    expect(issues).toEqual([]);
    expect(report).toMatchObject({
      requests: 7,
      uncovered: 1,
      verdicts: { allow: 3, block: 3 },
      effects: { allow: 4, block: 2 },
    });
    expect([report.first, report.last]).toEqual(['1970-01-01T00:00:01.000Z', '1970-01-01T00:00:06.000Z']);
  });

  it('counts by rule what arrived, was decided, observed, overtaken and blind', () => {
    const figures = site.rules.map(({ rule, arrived, decided, observed, overtaken, blind }) => [
      rule,
      arrived,
      decided,
      observed,
      overtaken,
      blind,
    ]);
    expect(figures).toEqual([
      ['no-uploads', 4, 1, 0, 0, 1],
      ['no-posts', 3, 0, 1, 0, 0],
      ['portugal', 3, 2, 0, 0, 0],
      ['never', 1, 0, 0, 1, 0],
      ['idle', 1, 0, 0, 0, 0],
      ['cautious', 1, 0, 1, 0, 1],
    ]);
    expect(site.default).toMatchObject({ arrived: 1, decided: 1 });
    expect(site.rules[3]?.overtakenBy).toEqual([{ rule: 'portugal', requests: 1 }]);
    expect(site.rules[0]?.unseen).toEqual([{ field: 'path', requests: 1 }]);
    expect([site.rules[2]?.first, site.rules[2]?.last]).toEqual([
      '1970-01-01T00:00:01.000Z',
      '1970-01-01T00:00:05.000Z',
    ]);
  });

  it('remarks on rules that have no effect or cannot see', () => {
    expect(site.remarks).toEqual([
      {
        rule: 'no-uploads',
        code: 'blind',
        text: '`no-uploads` could not be judged on one request, which does not show the path.',
      },
      {
        rule: 'never',
        code: 'always-overtaken',
        text: '`never` decided nothing: one request matches it, and `portugal` above had decided. To let it act, move it above `portugal`.',
      },
      { rule: 'idle', code: 'no-match', text: '`idle` matched no request of this log.' },
      {
        rule: 'cautious',
        code: 'blind',
        text: '`cautious` could not be judged on one request, which does not show the path.',
      },
    ]);
  });

  it('counts by country and host, the most first, and what was not seen', () => {
    expect(report.breakdowns.country.rows.map(({ key, requests, block }) => [key, requests, block])).toEqual([
      ['ES', 2, 2],
      ['PT', 2, 0],
      ['private', 2, 1],
      [null, 1, 0],
    ]);
    expect(report.breakdowns.host.rows[0]).toMatchObject({
      key: 'www.a.example',
      requests: 3,
      allow: 2,
      block: 1,
      uncovered: 0,
    });
    expect(report.breakdowns.host.rows.find(({ key }) => key === null)?.requests).toBe(1);
  });

  it('is the same bytes for the same log', () => {
    const again = new Run(state);
    again.chunk(chunkOf(REQUESTS));
    expect(JSON.stringify(again.report())).toBe(JSON.stringify(report));
  });

  it('judges all by one policy where one is named', () => {
    const named = new Run(state, workspace.policies.get('offices'));
    named.chunk(chunkOf(REQUESTS));
    expect(named.report()).toMatchObject({
      uncovered: 0,
      verdicts: { allow: 6, block: 1 },
      effects: { allow: 7, block: 0 },
    });
  });

  it.each<[RequestFilter, number[]]>([
    [{}, [0, 1, 2, 3, 4, 5, 6]],
    [{ verdict: 'block' }, [2, 3, 4]],
    [{ verdict: 'uncovered' }, [6]],
    [{ policy: 'offices' }, [4, 5]],
    [{ rule: 'portugal' }, [0, 1]],
    [{ rule: 'default' }, [3, 5]],
    [{ rule: 'default', policy: 'site' }, [3]],
    [{ rule: 'never', role: 'overtaken' }, [1]],
    [{ rule: 'no-posts', role: 'observed' }, [1]],
    [{ rule: 'no-uploads', role: 'blind' }, [3]],
    [{ rule: 'cautious', role: 'blind' }, [3]],
    [{ rule: 'cautious', role: 'observed' }, [3]],
    [{ rule: 'never', role: 'overtaken', verdict: 'block' }, []],
    [{ country: 'ES' }, [2, 3]],
    [{ country: 'unseen' }, [6]],
    [{ country: 'FR' }, []],
    [{ country: 'PT', verdict: 'allow', rule: 'portugal' }, [0, 1]],
  ])('leads to its requests: %j', (filter, rows) => {
    expect(filterRows({ verdicts }, run.slots, filter, 0, 100)).toEqual(rows);
  });

  it('gives pages', () => {
    expect(filterRows({ verdicts }, run.slots, { verdict: 'block' }, 3, 1)).toEqual([3]);
  });
});

describe('any log', () => {
  const anyRequest = fc
    .record({
      peer: fc.constantFrom(PT, ES, OFFICE, undefined),
      host: fc.constantFrom('a.example', 'www.a.example', 'www.lucky-petal.example', undefined),
      method: fc.constantFrom('GET', 'POST', undefined),
      path: fc.constantFrom('/', '/upload/x', undefined),
    })
    .map(makeRequest);

  it('adds up: every request is decided once, and every figure is the number of its requests', () => {
    fc.assert(
      fc.property(fc.array(anyRequest, { maxLength: 40 }), (requests) => {
        const run = new Run(state);
        const verdicts = new Verdicts(run.chunk(chunkOf(requests)) as ColumnTable);
        const report = run.report();
        expect(report.verdicts.allow + report.verdicts.block + report.uncovered).toBe(requests.length);
        for (const policy of report.policies) {
          let arrived = policy.requests;
          for (const rule of policy.rules) {
            expect(rule.arrived).toBe(arrived);
            arrived -= rule.decided;
            for (const role of ['decided', 'observed', 'overtaken', 'blind'] as const)
              expect(
                filterRows({ verdicts }, run.slots, { policy: policy.policy, rule: rule.rule, role }, 0, 1000),
              ).toHaveLength(rule[role]);
          }
          expect(policy.default.decided).toBe(arrived);
        }
      }),
    );
  });
});

it('judges by URLs the requests of a policy among those of others, also where a log has hosts only', () => {
  const policy = (name: string, host: string) => `
policy: ${name}
covers: {hosts: [${host}]}
default: allow
rules:
  - {rule: by-url, when: {url: [${host}/x/**]}, then: block}
`;
  const read = readWorkspace([
    { name: 'a.yaml', text: policy('a', 'a.example') },
    { name: 'b.yaml', text: policy('b', 'b.example') },
  ]);
  expect(read.issues).toEqual([]);
  const prepared = prepare(read.workspace, { countryData: undefined, at: 0 });
  const hosts = ['c.example', 'a.example', 'b.example', 'c.example', 'b.example', 'a.example'];
  const requests = hosts.map((host) => makeRequest({ host, method: 'GET' }));
  const run = new Run(prepared);
  const verdicts = new Verdicts(run.chunk(chunkOf(requests)) as ColumnTable);
  const router = createRouter(prepared);
  const expected = requests.map((each) => {
    const to = router.route(each);
    if (to === undefined) return undefined;
    const { outcomes } = evaluate(to, subjectOf(each, to, prepared), prepared);
    return outcomes.map(({ unseen }) => unseen.length);
  });
  const blind = requests.map((_, row) => verdicts.outcome(row)?.blind.map(({ unseen }) => unseen.length));
  expect(blind).toEqual(expected);
});
