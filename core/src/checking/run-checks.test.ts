import { describe, expect, it } from 'vitest';
import { prepare } from '../engine/index.js';
import { readWorkspace } from '../workspace/index.js';
import { runChecks } from './run-checks.js';

const GARDEN = `policy: visitor-web
covers: {clients: [10.40.0.0/16]}
default: block
rules:
  - rule: quiet-hours
    when: {time: [night]}
    then: block
    stance: observe
  - rule: web-for-all
    when: {scheme: [https]}
    then: allow
  - rule: no-wagering
    when: {host: [odds.meadowbet.example]}
    then: block
---
schedule: night
zone: UTC
weekly: {mon-sun: ["22:00-06:00"]}
---
probe: visitor-phone
client: 10.40.3.7
---
probe: passer-by
client: 198.18.97.3
`;

const CHECK = `check: what-visitors-reach
at: 2026-11-12T23:00:00Z
destinations:
  betting: https://odds.meadowbet.example/
  map: {tunnel: "maps.hedgerow.example:443"}
expect:
  visitor-phone: {betting: BETTING, map: {verdict: block, rule: default}}
  passer-by: {betting: uncovered, map: allow}
`;

function run(check: string) {
  const { workspace, issues } = readWorkspace([{ name: 'garden.yaml', text: `${GARDEN}---\n${check}` }]);
  expect(issues.map(({ what }) => what)).toEqual([]);
  const prepared = prepare(workspace, { countryData: undefined, at: 0 });
  return runChecks(prepared, workspace.checks.values(), 0);
}

describe('a check', () => {
  it('asks for every cell, and returns what each gave', () => {
    const [grid] = run(CHECK.replace('BETTING', '{verdict: allow, rule: web-for-all}'));
    expect(grid).toMatchObject({
      check: 'what-visitors-reach',
      probes: ['visitor-phone', 'passer-by'],
      destinations: ['betting', 'map'],
      failing: 1,
    });
    expect(
      grid?.cells.map(({ probe, destination, verdict, rule, holds }) => [probe, destination, verdict, rule, holds]),
    ).toEqual([
      ['visitor-phone', 'betting', 'allow', 'web-for-all', true],
      ['visitor-phone', 'map', 'block', 'default', true],
      ['passer-by', 'betting', 'uncovered', null, true],
      ['passer-by', 'map', 'uncovered', null, false],
    ]);
    expect(grid?.cells[3]?.mends).toEqual([
      { what: 'Let a policy cover the destination’s host or the probe’s address.', mend: null },
    ]);
  });

  it('reports the move that would mend it, where a rule below has the answer', () => {
    const cell = run(CHECK.replace('BETTING', 'block'))[0]?.cells[0];
    expect(cell).toMatchObject({
      holds: false,
      verdict: 'allow',
      mends: [
        {
          what: 'Move rule `no-wagering` above `web-for-all`.',
          mend: { type: 'move-above', rule: 'no-wagering', above: 'web-for-all' },
        },
        {
          what: 'Let rule `quiet-hours` be enforced; its stance is observe.',
          mend: { type: 'set', rule: 'quiet-hours', key: 'stance' },
        },
      ],
    });
    expect(cell?.summary).toContain('Allowed by rule web-for-all');
  });

  it('names the rule that only observes, where the check expects it', () => {
    const cell = run(CHECK.replace('BETTING', '{verdict: block, rule: quiet-hours}'))[0]?.cells[0];
    expect(cell?.mends).toEqual([
      {
        what: 'Let rule `quiet-hours` be enforced; its stance is observe.',
        mend: { type: 'set', rule: 'quiet-hours', key: 'stance' },
      },
    ]);
  });

  it('holds a rule to its name, not to its verdict alone', () => {
    const cell = run(CHECK.replace('BETTING', '{verdict: allow, rule: no-wagering}'))[0]?.cells[0];
    expect(cell).toMatchObject({ holds: false, verdict: 'allow', rule: 'web-for-all', mends: [] });
  });
});
