import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFolder } from '../setup/folder.js';
import { runClient, startGarden, type TestService } from '../setup/service.js';

/** Every verdict, tags, limits, categories and schedules, from the file over the service to the report. */
let service: TestService;
const folder = openFolder();

const RULES = `
policy: herbarium
default: {block: {status: 451}}
covers: {hosts: [herbarium.fennelhill.example]}
rules:
  - {rule: staff, when: {user: "list:people"}, then: {tag: [staff]}}
  - {rule: old-scans, when: {url: "herbarium.fennelhill.example/scans/**"}, unless: {tag: staff}, then: {redirect: "https://herbarium.fennelhill.example/news"}}
  - {rule: robots, when: {agent: ["*bot*", absent], application: api}, then: challenge}
  - {rule: nights, when: {time: closed-hours}, then: {confirm: {for: 1h}}, record: alert}
  - {rule: rush, when: {path: /calls/search}, limit: {more-than: 2, within: 10s, per: [client/24], hold: 1m}, then: block}
  - {rule: open, when: {path: ["/calls/**", /news, "/scans/**"]}, then: allow}
---
list: people
of: users
entries: [Ines]
---
application: api
when: {host: herbarium.fennelhill.example, path: "/calls/**"}
---
schedule: closed-hours
zone: Europe/Lisbon
weekly: {mon-sun: ["22:00-06:00"]}
`;

const at = (second: number, hour = 10) => new Date(Date.UTC(2026, 10, 10, hour, 0, second)).toISOString();
const HOST = 'herbarium.fennelhill.example';
const LOG = [
  { time: at(0), peer: '198.18.1.1', host: HOST, path: '/scans/7', user: 'anonymous', agent: 'Thistle/8' },
  { time: at(1), peer: '198.18.1.1', host: HOST, path: '/scans/7', user: 'ines', agent: 'Thistle/8' },
  { time: at(2), peer: '198.18.1.1', host: HOST, path: '/calls/list', user: 'anonymous', agent: 'Seedbot/1' },
  {
    time: at(3),
    peer: '198.18.1.1',
    host: HOST,
    path: '/calls/list',
    user: 'anonymous',
    agent: 'absent',
    met: ['herbarium/robots'],
  },
  { time: at(0, 23), peer: '198.18.1.1', host: HOST, path: '/news', user: 'anonymous', agent: 'Thistle/8' },
  // The log is not in the order of time: the fourth search is the third.
  ...[10, 11, 19, 12, 60].map((second) => ({
    time: at(second),
    peer: `198.18.2.${second}`,
    host: HOST,
    path: '/calls/search',
    user: 'anonymous',
    agent: 'Thistle/8',
  })),
  { time: at(50), peer: '198.18.3.1', host: HOST, path: '/nowhere', user: 'anonymous', agent: 'Thistle/8' },
];

beforeAll(async () => {
  service = await startGarden();
  writeFileSync(join(folder, 'herbarium.yaml'), RULES);
  writeFileSync(join(folder, 'log.jsonl'), LOG.map((line) => JSON.stringify(line)).join('\n'));
  expect((await service.client('workspace', 'apply', join(folder, 'herbarium.yaml'))).code).toBe(0);
});
afterAll(() => service.stop());

const json = async (...args: string[]) => JSON.parse((await service.client('--json', ...args)).out);

describe('a replay of every verdict', () => {
  it('says each request’s verdict and rule, whatever the order of the log', async () => {
    const ran = await service.client('replay', 'run', 'herbarium', '--import', join(folder, 'log.jsonl'));
    expect(ran.code).toBe(0);
    const { requests } = await json('request', 'list', '--limit', '100');
    expect(requests.map(({ verdict, rule }: { verdict: string; rule: string | null }) => `${verdict} ${rule}`)).toEqual(
      [
        'redirect old-scans',
        'allow open',
        'challenge robots',
        'allow robots',
        'confirm nights',
        'allow open',
        'allow open',
        'block rush',
        'block rush',
        'block rush',
        'block null',
      ],
    );
  });

  it('reports by verdict, by rule, and who was over a limit', async () => {
    const { report } = await json('replay', 'show');
    expect(report.verdicts).toEqual({ allow: 4, block: 4, redirect: 1, challenge: 1, confirm: 1, unlock: 0 });
    const rules = report.policies.find(({ policy }: { policy: string }) => policy === 'herbarium').rules;
    const figures = Object.fromEntries(rules.map((rule: { rule: string }) => [rule.rule, rule]));
    expect(figures.staff).toMatchObject({ then: 'tag', tagged: 1 });
    expect(figures.nights).toMatchObject({ decided: 1, record: 'alert' });
    expect(figures.rush.limit).toMatchObject({
      moreThan: 2,
      within: 10,
      keysOver: 1,
      worst: [{ key: '198.18.2.0/24', peak: 4 }],
    });
    const { out } = await service.client('replay', 'show');
    expect(out).toMatch(/`rush`: one key was over 2 requests; the highest was 198\.18\.2\.0\/24, 4 within 10 s/);
    expect(out).toMatch(/challenge\s+1\s/);
  });

  it('explains a request with the limits as the replay found them, and what would have to change', async () => {
    const { explanation } = await json('request', 'explain', '--request', '8');
    expect(explanation).toMatchObject({ verdict: 'block', decidedBy: 'rush' });
    const { out } = await service.client('request', 'explain', '--request', '2', '--changes');
    expect(out).toContain('Allowed by rule open');
    expect(out).toContain('tags     staff');
    expect(out).toContain('It would act if its exception for tag did not hold.');
  });

  it('explains a request that is given, and ends with 1 where the verdict is another', async () => {
    const given = [
      '--client',
      '198.18.1.1',
      '--host',
      HOST,
      '--path',
      '/calls/list',
      '--agent',
      'Seedbot/1',
      '--user',
      'anonymous',
    ];
    const ran = await service.client('request', 'explain', ...given, '--expect', 'challenge');
    expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('Challenged by rule robots')]);
    expect(ran.out).toContain(`since host ${HOST} matches and path /calls/list matches /calls/**`);
    expect((await service.client('request', 'explain', ...given, '--time', at(0, 23), '--expect', 'allow')).code).toBe(
      1,
    );
  });
});

describe('the review', () => {
  it('finds what the garden’s rules cannot do, through the service and of files', async () => {
    const { findings } = await json('finding', 'list');
    const shown = findings.map(({ code, rule }: { code: string; rule: string | null }) => `${code} ${rule}`);
    expect(shown).toEqual(
      expect.arrayContaining([
        'broad-not-last web-for-all',
        'unreachable no-wagering',
        'unseen-when-encrypted no-uploads',
      ]),
    );
    const strict = await service.client('finding', 'list', '--strict');
    expect([strict.code, strict.out]).toEqual([
      1,
      expect.stringContaining('→ Move `no-wagering` above `web-for-all`.'),
    ]);
    const ofFiles = await runClient(['finding', 'list', join(folder, 'herbarium.yaml')]);
    expect([ofFiles.code, ofFiles.out]).toEqual([0, expect.stringContaining('0 warnings')]);
    writeFileSync(join(folder, 'broken.yaml'), 'policy: p\n');
    expect((await runClient(['finding', 'list', join(folder, 'broken.yaml')])).code).toBe(1);
  });
});

describe('corrections', () => {
  it('come before the country data, and say so', async () => {
    expect((await service.client('country', 'show', '203.0.113.9')).out).toContain(
      'is in Portugal (PT), by a correction of 203.0.113.0/24.',
    );
    expect((await service.client('country', 'show', '198.18.97.3')).out).toContain('which says so of 198.18.96.0/20');
  });
});
