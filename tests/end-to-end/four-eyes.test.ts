import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Answer, callApi, startService, type TestService } from '../setup/service.js';

/** What nobody puts in force alone: a change that another has to see, and a feed whose setter may publish no more. */
let service: TestService;
let library: Server;
const PASSWORD = 'a fern in every gorge';
const people: Record<string, (method: string, path: string, body?: unknown) => Promise<Answer>> = {};

beforeAll(async () => {
  service = await startService();
  library = createServer((_, response) => response.end(`n${Math.random().toString(36).slice(2)}.example\n`));
  await new Promise<void>((done) => library.listen(0, '127.0.0.1', done));
  for (const name of ['paula', 'pedro', 'petra']) {
    await service.call('POST', '/api/v1/people', { name, role: 'publisher', password: PASSWORD });
    const signedIn = await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, password: PASSWORD }),
    });
    const headers = { cookie: signedIn.headers.get('set-cookie')?.split(';')[0] ?? '', 'x-jade-fence-console': '1' };
    people[name] = (method, path, body) => callApi(service.url, method, path, body, headers);
  }
  await service.call('PATCH', '/api/v1/settings', { fourEyes: true });
});
afterAll(async () => {
  await service?.stop();
  library?.close();
});

const as = (name: string, method: string, path: string, body?: unknown): Promise<Answer> =>
  (people[name] as (typeof people)[string])(method, path, body);
const edit = (name: string, list: string) =>
  as(name, 'PUT', '/api/v1/workspace', {
    files: [{ name: 'l', text: `list: ${list}\nof: addresses\nentries: [198.18.4.7]\n` }],
  });
const propose = async (name: string) =>
  (await as(name, 'POST', '/api/v1/proposals', { message: 'For another to see' })).body.proposal as number;
const approve = (name: string, proposal: number) =>
  as(name, 'POST', `/api/v1/proposals/${proposal}/approve`, { acceptWarnings: true });

describe('with four eyes', () => {
  it('who has edited any of it cannot approve, whoever proposed it', async () => {
    await edit('paula', 'first');
    await edit('pedro', 'second');
    const proposal = await propose('paula');
    expect(await approve('paula', proposal)).toMatchObject({ status: 403, body: { code: 'own-proposal' } });
    expect(await approve('pedro', proposal)).toMatchObject({ status: 403, body: { code: 'own-edits' } });
    expect(await approve('petra', proposal)).toMatchObject({ status: 201, body: { approvedBy: 'petra' } });
  });

  it('an edit that was published before does not count, and one that was taken back does', async () => {
    await edit('paula', 'third');
    const mine = await propose('paula');
    expect((await approve('pedro', mine)).status).toBe(201);
    await edit('petra', 'fourth');
    await as('petra', 'POST', '/api/v1/draft/discard', { kind: 'list', name: 'fourth' });
    await edit('paula', 'fifth');
    const next = await propose('paula');
    expect(await approve('petra', next)).toMatchObject({ status: 403, body: { code: 'own-edits' } });
    expect((await approve('pedro', next)).status).toBe(201);
  });

  it('passcodes count as edits', async () => {
    expect(
      (await as('petra', 'PUT', '/api/v1/passcodes/gardeners', { passcode: 'between the two ferns' })).status,
    ).toBe(204);
    await edit('paula', 'sixth');
    const proposal = await propose('paula');
    expect(await approve('petra', proposal)).toMatchObject({ status: 403, body: { code: 'own-edits' } });
    expect((await approve('pedro', proposal)).status).toBe(201);
  });

  it('of two who approve at once one does', async () => {
    await edit('paula', 'seventh');
    const proposal = await propose('paula');
    const answers = await Promise.all(['pedro', 'petra', 'pedro', 'petra'].map((name) => approve(name, proposal)));
    expect(answers.map(({ status }) => status).sort()).toEqual([
      201,
      expect.any(Number),
      expect.any(Number),
      expect.any(Number),
    ]);
    expect(answers.filter(({ status }) => status === 201)).toHaveLength(1);
  });
});

describe('a feed that publishes', () => {
  const source = () => `http://127.0.0.1:${(library.address() as AddressInfo).port}/list.txt`;
  const refresh = async () => (await service.call('POST', '/api/v1/feeds/adverts/refresh')).body.last;

  it('does so only while the person who set it may', async () => {
    await service.call('PATCH', '/api/v1/settings', { fourEyes: false });
    const feed = { of: 'domains', source: source(), allowPrivate: true };
    // Private space is for administrators to allow.
    expect((await as('petra', 'PUT', '/api/v1/feeds/adverts', { ...feed, publish: true })).status).toBe(403);
    await service.call('POST', '/api/v1/people', { name: 'ada', role: 'administrator', password: PASSWORD });
    const ada = await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'ada', password: PASSWORD }),
    });
    const headers = { cookie: ada.headers.get('set-cookie')?.split(';')[0] ?? '', 'x-jade-fence-console': '1' };
    const set = await callApi(service.url, 'PUT', '/api/v1/feeds/adverts', { ...feed, publish: true }, headers);
    expect([200, 201]).toContain(set.status);
    const first = await refresh();
    expect(first.revision).toEqual(expect.any(Number));
    await service.call('PATCH', '/api/v1/people/ada', { role: 'editor' });
    const second = await refresh();
    expect(second).toMatchObject({ revision: null, what: expect.stringContaining('may not publish any more') });
    await service.call('PATCH', '/api/v1/people/ada', { role: 'administrator' });
    expect((await refresh()).revision).toEqual(expect.any(Number));
    await service.call('PATCH', '/api/v1/people/ada', { disabled: true });
    expect((await refresh()).revision).toBeNull();
    await service.call('DELETE', '/api/v1/people/ada');
    expect((await refresh()).revision).toBeNull();
    const { entries } = (await service.call('GET', '/api/v1/audit?action=feed-set')).body;
    expect(entries.at(-1)).toMatchObject({
      actor: 'ada',
      name: 'adverts',
      detail: { publish: true, allowPrivate: true },
    });
  });
});
