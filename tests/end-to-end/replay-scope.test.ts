import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** What a replay is of: several logs, a span, a filter; and what it judges by: files that are stored nowhere. */
let service: TestService;

const WEEK = `${DEMO}logs/week.jsonl`;

beforeAll(async () => {
  service = await startService();
  for (const step of [
    ['workspace', 'apply', `${DEMO}workspace`],
    ['country', 'import', `${DEMO}country-data.csv`, '--date', '2026-11-01'],
    ['log', 'import', WEEK],
    ['log', 'import', WEEK, '--name', 'again'],
  ])
    expect((await service.client(...step)).code).toBe(0);
});
afterAll(() => service.stop());

const replay = async (...args: string[]) => {
  const ran = await service.client('--json', 'replay', 'run', '--at', '2026-11-23T00:00:00Z', ...args);
  expect(ran.err).toBe('');
  return JSON.parse(ran.out) as { replay: { id: number; instead: unknown[] }; report: { requests: number } };
};
const requestsOf = async (id: number, query = '') =>
  (await service.call('GET', `/api/v1/replays/${id}/requests?limit=500${query}`)).body.requests;

it('takes several logs for one, each request listed with its log', async () => {
  const one = await replay('week');
  const both = await replay('week', 'again');
  expect(both.report.requests).toBe(2 * one.report.requests);
  const last = (await service.call('GET', `/api/v1/replays/${both.replay.id}/requests?after=${one.report.requests}`))
    .body;
  expect(last.requests[0]).toMatchObject({ number: one.report.requests + 1, log: 'again', line: 1 });
  const explained = await service.call('GET', `/api/v1/replays/${both.replay.id}/requests/${one.report.requests + 1}`);
  expect(explained.body.request).toEqual((await requestsOf(one.replay.id))[0].request);
  // The same requests twice are over a limit sooner, for they are counted in the order of their times.
  const text = await service.client('replay', 'run', 'week', 'again');
  expect(text.out).toContain('of logs week, again');
});

it('says how all of its requests fall through the rules as its report does, and of some as counting them does', async () => {
  const { id } = (await replay('week')).replay;
  const report = (await service.call('GET', `/api/v1/replays/${id}/report`)).body;
  const fallOf = async (query: string) => (await service.call('GET', `/api/v1/replays/${id}/fall?${query}`)).body;
  const all = await fallOf('');
  expect([all.requests, all.uncovered]).toEqual([report.requests, report.uncovered]);
  for (const policy of report.policies) {
    const fall = all.policies.find((each: { policy: string }) => each.policy === policy.policy);
    expect(fall).toMatchObject({ requests: policy.requests, verdicts: policy.verdicts });
    expect(fall.default).toEqual({ arrived: policy.default.arrived, decided: policy.default.decided });
    for (const [at, rule] of policy.rules.entries()) {
      const { arrived, decided, tagged, observed, overtaken, blind } = rule;
      expect(fall.rules[at]).toEqual({ rule: rule.rule, arrived, decided, tagged, observed, overtaken, blind });
    }
  }
  const query = 'country=ES&verdict=block&from=2026-11-10T00:00:00Z&to=2026-11-14T00:00:00Z';
  const some = await fallOf(query);
  const counted = await requestsOf(id, `&${query}`);
  expect(some.requests).toBe(counted.length);
  expect(counted.length).toBeGreaterThan(0);
  const decided = new Map<string, number>();
  for (const { policy, rule } of counted as { policy: string; rule: string | null }[])
    if (rule !== null) decided.set(`${policy} ${rule}`, (decided.get(`${policy} ${rule}`) ?? 0) + 1);
  const shown = some.policies.flatMap(
    ({ policy, rules }: { policy: string; rules: { rule: string; decided: number }[] }) =>
      rules
        .filter((rule) => rule.decided > 0)
        .map((rule): [string, number] => [`${policy} ${rule.rule}`, rule.decided]),
  );
  expect(new Map(shown)).toEqual(decided);
  expect((await service.call('GET', `/api/v1/replays/${id}/fall?rule=no-such-rule`)).status).toBe(404);
});

it('is of a span and of some requests only, and says so', async () => {
  const whole = await replay('week');
  const all = (await requestsOf(
    whole.replay.id,
    '&from=2026-11-12T00:00:00Z&to=2026-11-12T06:00:00Z&host=.fennelhill.example',
  )) as {
    request: { time: string; host: string };
  }[];
  const some = await replay(
    'week',
    ...['--from', '2026-11-12T00:00:00Z', '--to', '2026-11-12T06:00:00Z', '--host', '.fennelhill.example'],
  );
  expect(some.report.requests).toBe(all.length);
  expect(all.length).toBeGreaterThan(5);
  const found = await requestsOf(some.replay.id);
  expect(found.map(({ request }: { request: unknown }) => request)).toEqual(all.map(({ request }) => request));
  expect(found.map(({ number }: { number: number }) => number)).toEqual(found.map((_: unknown, at: number) => at + 1));
  const page = await service.call('GET', `/api/v1/replays/${some.replay.id}/report.md`);
  expect(page.body).toContain('Only requests with host .fennelhill.example, from 2026-11-12T00:00:00.000Z');
  const text = await service.client('replay', 'show', String(some.replay.id));
  expect(text.out).toContain('Only requests with host .fennelhill.example, from 2026-11-12T00:00:00.000Z, to 2026-');
  const none = await replay('week', '--host', 'nobody.example');
  expect(none.report.requests).toBe(0);
  expect(await requestsOf(none.replay.id)).toEqual([]);
});

it('takes a day for its first instant', async () => {
  const day = await replay('week', '--from', '2026-11-12', '--to', '2026-11-13');
  const same = await replay('week', '--from', '2026-11-12T00:00:00Z', '--to', '2026-11-13T01:00:00+01:00');
  expect(day.report.requests).toBeGreaterThan(5);
  expect(day.report.requests).toBe(same.report.requests);
  const none = await service.client('replay', 'run', 'week', '--from', '2026-02-31', '--to', 'Thursday');
  expect(none.err).toMatch(/only\.from.*or a day in UTC/);
  expect(none.err).toMatch(/only\.to/);
});

it('is compared with one of the same requests only', async () => {
  const [whole, some] = [await replay('week'), await replay('week', '--method', 'GET')];
  const compared = await service.call('GET', `/api/v1/replays/${some.replay.id}/comparison?with=${whole.replay.id}`);
  expect(compared).toMatchObject({ status: 409, body: { code: 'different-requests' } });
  const again = await replay('week', '--method', 'GET');
  const same = await service.call('GET', `/api/v1/replays/${some.replay.id}/comparison?with=${again.replay.id}`);
  expect(same.status).toBe(200);
});

it('is not compared with one whose category had other hosts, and so other requests', async () => {
  const before = await replay('week', '--category', 'wagering');
  const file = join(service.folder, 'catalogue.yaml');
  writeFileSync(file, 'category: wagering\ndomains: [.nothing.example]\n');
  const after = await replay('week', '--category', 'wagering', '--try', file);
  expect(after.report.requests).not.toBe(before.report.requests);
  const compared = await service.call('GET', `/api/v1/replays/${after.replay.id}/comparison?with=${before.replay.id}`);
  expect(compared).toMatchObject({ status: 409, body: { code: 'different-requests' } });
});

it('judges by files that are not stored, in place of what the service holds', async () => {
  const file = join(service.folder, 'tried.yaml');
  writeFileSync(
    file,
    'policy: ticket-site\ncovers: {hosts: [tickets.fennelhill.example, staging.fennelhill.example]}\ndefault: block\n',
  );
  const before = (await service.call('GET', '/api/v1/policies/ticket-site')).body;
  const tried = await replay('week', '--try', file);
  expect(tried.replay.instead).toEqual([{ kind: 'policy', name: 'ticket-site' }]);
  const [request] = await requestsOf(tried.replay.id, '&host=tickets.fennelhill.example');
  expect(request).toMatchObject({ policy: 'ticket-site', rule: null, verdict: 'block' });
  // What is in force is as it was, and the explanation is of what was tried.
  expect((await service.call('GET', '/api/v1/policies/ticket-site')).body).toEqual(before);
  const explained = await service.call('GET', `/api/v1/replays/${tried.replay.id}/requests/${request.number}`);
  expect(explained.body.explanation).toMatchObject({ policy: 'ticket-site', verdict: 'block' });
});

it('reports all that is wrong with what it is asked', async () => {
  const ask = async (body: object) => (await service.call('POST', '/api/v1/replays', body)).body;
  expect(await ask({})).toMatchObject({ code: 'which-log' });
  expect(await ask({ log: 'week', logs: ['week'] })).toMatchObject({ code: 'which-log' });
  expect(await ask({ logs: ['week', 'weak'] })).toMatchObject({ code: 'unknown-log', remedy: 'Did you mean `week`?' });
  expect((await ask({ log: 'week', only: { status: '4x', host: 'a b', verdict: 'block' } })).issues).toHaveLength(1);
  expect((await ask({ log: 'week', only: { status: '4x', host: 'a b' } })).issues).toHaveLength(2);
  expect(await ask({ log: 'week', only: { category: 'wagerin' } })).toMatchObject({
    code: 'unknown-category',
    remedy: 'Did you mean `wagering`?',
  });
  expect(await ask({ log: 'week', files: [{ name: 'x.yaml', text: '# nothing' }] })).toMatchObject({
    code: 'nothing-to-apply',
  });
  const wrong = await ask({ log: 'week', files: [{ name: 'x.yaml', text: 'policy: x\ndefault: perhaps\n' }] });
  expect(wrong).toMatchObject({ code: 'invalid-workspace' });
  expect(wrong.detail).toContain('nothing was replayed');
});

it('keeps mappings of columns by name', async () => {
  const csv = join(service.folder, 'gate.csv');
  writeFileSync(csv, 'Client,Site,When\n198.18.0.7,tickets.fennelhill.example,2026-11-09 10:00:00\n');
  const columns = ['--column', 'peer=Client', '--column', 'host=Site', '--column', 'time=When'];
  expect((await service.client('mapping', 'set', 'gatehouse', ...columns, '--zone', 'Europe/Lisbon')).code).toBe(0);
  const ran = await service.client('log', 'import', csv, '--mapping', 'gatehouse');
  expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('Imported 1 request of 2 lines')]);
  expect((await service.client('mapping', 'list')).out).toContain('peer=Client');
  const missing = await service.client('log', 'import', csv, '--name', 'other', '--mapping', 'gatehous');
  expect([missing.code, missing.err]).toEqual([4, expect.stringContaining('Did you mean `gatehouse`?')]);
  const wrong = await service.client('mapping', 'set', 'bad', '--column', 'pear=Client');
  expect([wrong.code, wrong.err]).toEqual([4, expect.stringContaining('did you mean `peer`?')]);
  expect((await service.client('mapping', 'remove', 'gatehouse')).code).toBe(0);
  expect((await service.call('GET', '/api/v1/mappings')).body.mappings).toEqual([]);
});

it('goes with any of its logs', async () => {
  const both = await replay('week', 'again');
  expect((await service.client('log', 'remove', 'again', '--yes')).code).toBe(0);
  expect((await service.call('GET', `/api/v1/replays/${both.replay.id}`)).status).toBe(404);
});
