import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ended, startService, type TestService } from '../setup/service.js';

/** What is shown as pseudonyms, by what the policy redacts and by what the caller redacts; and what is not stored. */
let service: TestService;
let id: number;

const POLICY = `list: staff
of: users
entries: [a.hazel]
---
list: watched
of: addresses
entries: [198.18.5.194]
---
policy: ticket-site
covers: {hosts: [tickets.fennelhill.example]}
default: allow
redact: [client/24, user]
rules:
  - rule: staff-only
    when: {user: ["list:staff"]}
    then: {tag: [staff]}
  - rule: flood
    when: {path: ["/account/sign-in"]}
    limit: {more-than: 2, within: 1h, per: [client]}
    then: block
    stance: observe
  - rule: one-client
    when: {client: [watched]}
    then: block
`;
const line = (at: number, more: object) =>
  JSON.stringify({
    time: `2026-11-09T10:00:${String(at).padStart(2, '0')}Z`,
    host: 'tickets.fennelhill.example',
    path: '/account/sign-in',
    method: 'POST',
    peer: '198.18.5.194',
    user: 'a.hazel',
    agent: 'gardenapp/2.3',
    query: 'token=s3cret',
    ...more,
  });
const LOG = [
  ...Array.from({ length: 5 }, (_, at) => line(at, {})),
  line(6, { peer: '198.18.7.7', user: 'b.rowan' }),
  line(7, { host: 'elsewhere.example', peer: '198.18.9.9', user: 'c.linden' }),
].join('\n');
const SECRET = /198\.18\.5\.194|198\.18\.7\.7|hazel|rowan/;

beforeAll(async () => {
  service = await startService();
  await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: POLICY }] });
  await service.call('POST', '/api/v1/logs?name=day', LOG);
  id = (await service.call('POST', '/api/v1/replays', { log: 'day' })).body.id;
  await ended(service, id);
});
afterAll(() => service.stop());

const get = async (path: string) => (await service.call('GET', `/api/v1/replays/${id}/${path}`)).body;

it('decides by the real values, and shows pseudonyms, in every answer', async () => {
  const { requests } = await get('requests');
  expect(requests.map(({ verdict }: { verdict: string }) => verdict)).toEqual([
    ...Array.from({ length: 5 }, () => 'block'),
    'allow',
    'uncovered',
  ]);
  const [first, second] = requests;
  expect(first.client).toMatch(/^client-[0-9a-f]{12} in 198\.18\.5\.0\/24$/);
  expect(second.client).toBe(first.client);
  expect(requests[5].client).not.toBe(first.client);
  // Only the policy’s own requests are redacted by it.
  expect(requests[6].client).toBe('198.18.9.9');
  const answers = [
    requests.slice(0, 6),
    await get('requests/1'),
    (await get('report')).policies,
    await get('evidence?rule=flood'),
    (await get('report.md')).replaceAll('198.18.9.9', ''),
    await get('report.html'),
    await get('export?form=csv'),
    await get('export?form=jsonl'),
  ];
  for (const answer of answers) {
    const text = typeof answer === 'string' ? answer : JSON.stringify(answer);
    expect(text.includes('client-') || text.includes('user-')).toBe(true);
    expect(SECRET.exec(text)?.[0], text.slice(0, 3000)).toBeUndefined();
  }
});

it('finds the requests of a client by its pseudonym, as it was shown', async () => {
  const { requests } = await get('requests');
  const shown = requests[5].client as string;
  for (const name of [shown, shown.split(' ')[0] as string]) {
    const found = await get(`requests?client=${encodeURIComponent(name)}`);
    expect(found.requests.map(({ number }: { number: number }) => number)).toEqual([6]);
  }
  const ran = await service.client('request', 'list', '--client', requests[0].client, '--verdict', 'block');
  expect([ran.code, ran.out.match(/client-[0-9a-f]{12} in/g)?.length]).toEqual([0, 5]);
  expect((await get(`fall?client=${encodeURIComponent(shown)}`)).requests).toBe(1);
  const unknown = await service.call('GET', `/api/v1/replays/${id}/requests?client=client-000000000000`);
  expect([unknown.status, unknown.body.code]).toEqual([404, 'unknown-client']);
  const wrong = await service.call('GET', `/api/v1/replays/${id}/requests?client=client-xyz`);
  expect([wrong.status, JSON.stringify(wrong.body)]).toEqual([
    400,
    expect.stringContaining('no pseudonym of a client'),
  ]);
});

it('answers nothing about an address or a range that would find who is behind a pseudonym, but to whom that is given', async () => {
  const asked = (client: string, what = 'requests?') =>
    service.call('GET', `/api/v1/replays/${id}/${what}client=${encodeURIComponent(client)}`);
  const narrow = ['198.18.5.194', '198.18.5.192/30', '198.18.5.0/25', '198.18.5.1-198.18.5.200', '2001:db8::/65'];
  for (const client of narrow)
    for (const what of ['requests?', 'fall?', 'export?form=csv&', 'export?form=jsonl&'])
      expect(await asked(client, what)).toMatchObject({ status: 403, body: { code: 'clients-redacted' } });
  // The network is shown anyway.
  expect((await asked('198.18.5.0/24')).body.requests).toHaveLength(5);
  expect((await asked('198.18.0.0/15')).body.requests).toHaveLength(7);
  const ran = await service.client('person', 'set', 'administrator', '--sees-addresses', 'on');
  expect(ran.out).toBe('administrator is administrator, and may ask about addresses.\n');
  expect((await asked('198.18.5.194')).body.requests).toHaveLength(5);
  expect(JSON.stringify((await asked('198.18.5.194')).body)).not.toMatch(SECRET);
  const { entries } = (await service.call('GET', '/api/v1/audit?action=address-asked')).body;
  expect(entries[0]).toMatchObject({ kind: 'replay', name: String(id), detail: { client: '198.18.5.194' } });
  // A token that is less than its person has less than their rights.
  const lesser = (await service.call('POST', '/api/v1/tokens', { name: 'looks', role: 'viewer' })).body.secret;
  const path = `/api/v1/replays/${id}/requests?client=198.18.5.194`;
  expect((await service.call('GET', path, undefined, { authorization: `Bearer ${lesser}` })).status).toBe(403);
  await service.client('person', 'set', 'administrator', '--sees-addresses', 'off');
  expect((await asked('198.18.5.194')).status).toBe(403);
});

it('redacts more where the caller wants it, and says what can be asked', async () => {
  const { requests } = await get('requests?redact=client,query.token&redact=header.user-agent');
  expect(requests[6].client).toMatch(/^client-[0-9a-f]{12}$/);
  expect(requests[0].client).toMatch(/^client-[0-9a-f]{12}$/);
  expect(requests[0].request).toMatchObject({
    query: expect.stringMatching(/^token=query-/),
    agent: expect.stringMatching(/^header-/),
  });
  const ran = await service.client('request', 'list', '--redact', 'query', '--redact', 'client', '--json');
  expect(ran.out).not.toMatch(/s3cret|198\.18/);
  const wrong = await service.call('GET', `/api/v1/replays/${id}/requests?redact=clients`);
  expect([wrong.status, JSON.stringify(wrong.body)]).toEqual([400, expect.stringContaining('client/24')]);
  const file = join(service.folder, 'day.csv');
  expect((await service.client('request', 'export', '--redact', 'query', '--output', file)).code).toBe(0);
  expect(readFileSync(file, 'utf8')).not.toContain('s3cret');
});

it('stores a log without what is not to be stored, and is blind there', async () => {
  const file = join(service.folder, 'day.jsonl');
  writeFileSync(file, `${LOG}\nthis is not read, and says 198.18.5.194\n`);
  const ran = await service.client('log', 'import', file, '--name', 'bare', '--redact', 'client', '--redact', 'user');
  expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('Stored without client, user')]);
  expect((await service.call('GET', '/api/v1/logs/bare')).body.redacted).toEqual(['client', 'user']);
  expect(JSON.stringify((await service.call('GET', '/api/v1/logs/bare/rejected')).body)).not.toMatch(/198\.18/);
  const replay = (await service.call('POST', '/api/v1/replays', { log: 'bare' })).body.id;
  await ended(service, replay);
  const report = (await service.call('GET', `/api/v1/replays/${replay}/report`)).body;
  const rules = report.policies[0].rules as { rule: string; blind: number; unseen: { field: string }[] }[];
  expect(rules.map(({ rule, blind, unseen }) => [rule, blind, unseen.map(({ field }) => field)])).toEqual([
    ['staff-only', 6, ['user']],
    ['flood', 6, ['client']],
    ['one-client', 6, ['client']],
  ]);
  const part = await service.call('POST', '/api/v1/logs?name=part&redact=client/24', LOG);
  expect(part).toMatchObject({ status: 400, body: { code: 'not-storable' } });
});

it('is refused in a policy where it is none', async () => {
  const text = POLICY.replace('[client/24, user]', '[client/40, name]');
  const answer = await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text }] });
  expect(answer.body.issues.map(({ code, path }: { code: string; path: string }) => [code, path])).toEqual([
    ['bad-redaction', 'redact[0]'],
    ['bad-redaction', 'redact[1]'],
  ]);
});
