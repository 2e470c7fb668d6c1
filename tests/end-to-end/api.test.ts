import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, ended, startGarden, type TestService } from '../setup/service.js';

let service: TestService;
beforeAll(async () => {
  service = await startGarden();
});
afterAll(() => service.stop());

/** Every call that needs the key; a new route belongs here. */
const ROUTES = [
  ['GET', '/api/v1/workspace'],
  ['PUT', '/api/v1/workspace'],
  ['GET', '/api/v1/policies/ticket-site'],
  ['GET', '/api/v1/lists/edge-proxies'],
  ['GET', '/api/v1/country-data'],
  ['PUT', '/api/v1/country-data?source=x&date=2026-11-01'],
  ['GET', '/api/v1/country-data/198.18.0.1'],
  ['GET', '/api/v1/logs'],
  ['POST', '/api/v1/logs?name=x'],
  ['GET', '/api/v1/logs/week'],
  ['DELETE', '/api/v1/logs/week'],
  ['GET', '/api/v1/logs/week/rejected'],
  ['GET', '/api/v1/logs/week/rejected.jsonl'],
  ['GET', '/api/v1/replays'],
  ['POST', '/api/v1/replays'],
  ['GET', '/api/v1/replays/1'],
  ['DELETE', '/api/v1/replays/1'],
  ['POST', '/api/v1/replays/1/cancel'],
  ['GET', '/api/v1/replays/1/report'],
  ['GET', '/api/v1/replays/1/requests'],
  ['GET', '/api/v1/replays/1/requests/1'],
  ['GET', '/api/v1/replays/1/report.md'],
  ['GET', '/api/v1/replays/1/report.html'],
  ['GET', '/api/v1/replays/1/evidence?rule=x'],
  ['GET', '/api/v1/replays/1/export?form=csv'],
  ['GET', '/api/v1/replays/1/comparison?with=1'],
  ['GET', '/api/v1/replays/1/comparison/requests?with=1'],
  ['GET', '/api/v1/review'],
  ['POST', '/api/v1/explanations'],
] as const;

describe('questions about a replay', () => {
  it.each([
    ['/api/v1/replays/1/export', 'form'],
    ['/api/v1/replays/1/export?form=xlsx', 'form'],
    ['/api/v1/replays/1/export?form=csv&path=x', 'path'],
    ['/api/v1/replays/1/requests?status=4x', 'status'],
    ['/api/v1/replays/1/requests?client=300.1.1.1', 'client'],
    ['/api/v1/replays/1/requests?host=a%20b', 'host'],
    ['/api/v1/replays/1/requests?from=yesterday', 'from'],
    ['/api/v1/replays/1/requests?limit=0', 'limit'],
    ['/api/v1/replays/1/requests?colour=red', 'colour'],
    ['/api/v1/replays/1/evidence', 'rule'],
    ['/api/v1/replays/1/evidence?rule=a&role=king', 'role'],
    ['/api/v1/replays/1/comparison', 'with'],
    ['/api/v1/replays/1/comparison?with=-1', 'with'],
    ['/api/v1/replays/1/comparison/requests?with=1&was=maybe', 'was'],
  ])('%s is refused, and says that `%s` does not hold', async (path, field) => {
    const answer = await service.call('GET', path);
    expect([answer.status, answer.body.code]).toEqual([400, 'invalid-input']);
    expect(answer.body.issues.map((issue: { path: string }) => issue.path)).toContain(field);
  });

  it.each([
    ['/api/v1/replays/99/export?form=csv', 'unknown-replay'],
    ['/api/v1/replays/99/evidence?rule=a', 'unknown-replay'],
    ['/api/v1/replays/99/comparison?with=98', 'unknown-replay'],
    ['/api/v1/replays/x/comparison?with=98', 'unknown-replay'],
    ['/api/v1/replays/99/report.html', 'unknown-replay'],
    ['/api/v1/logs/none/rejected.jsonl', 'unknown-log'],
  ])('%s is not there: %s', async (path, code) => {
    const answer = await service.call('GET', path);
    expect([answer.status, answer.body.code]).toEqual([404, code]);
  });
});

describe('access', () => {
  it.each(ROUTES)('%s %s is refused without the key, and with a wrong one', async (method, path) => {
    for (const headers of [{}, { authorization: 'Bearer wrong' }, { cookie: 'jade_fence_session=wrong' }] as Record<
      string,
      string
    >[]) {
      const answer = await callApi(service.url, method, path, undefined, headers);
      expect(answer).toMatchObject({ status: 401, body: { code: 'sign-in-required', status: 401 } });
      expect(answer.type).toContain('application/problem+json');
    }
    expect((await service.call('GET', '/api/v1/logs/week')).status).toBe(200);
  });

  it('by session needs the console’s header for changes, and ends with it', async () => {
    const signIn = await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ key: service.key }),
    });
    const cookie = signIn.headers.get('set-cookie') ?? '';
    expect(cookie).toMatch(/^jade_fence_session=[^;]{40,}; Path=\/; Expires=[^;]+; HttpOnly; SameSite=Strict$/);
    const session = { cookie: cookie.split(';')[0]! };
    expect((await callApi(service.url, 'GET', '/api/v1/workspace', undefined, session)).status).toBe(200);
    expect(await callApi(service.url, 'POST', '/api/v1/replays', { log: 'none' }, session)).toMatchObject({
      status: 403,
      body: { code: 'cross-site' },
    });
    expect(
      (
        await callApi(
          service.url,
          'POST',
          '/api/v1/replays',
          { log: 'none' },
          { ...session, 'x-jade-fence-console': '1' },
        )
      ).status,
    ).toBe(404);
    expect((await callApi(service.url, 'DELETE', '/api/v1/session', undefined, session)).status).toBe(403);
    const asConsole = { ...session, 'x-jade-fence-console': '1' };
    expect((await callApi(service.url, 'DELETE', '/api/v1/session', undefined, asConsole)).status).toBe(204);
    expect((await callApi(service.url, 'GET', '/api/v1/workspace', undefined, session)).status).toBe(401);
  });

  it('is refused for a wrong key, and never shows it', async () => {
    expect(await callApi(service.url, 'POST', '/api/v1/session', { key: 'wrong' }, {})).toMatchObject({
      status: 401,
      body: { code: 'wrong-key' },
    });
    expect(await callApi(service.url, 'POST', '/api/v1/session', {}, {})).toMatchObject({
      status: 400,
      body: { code: 'how-to-sign-in' },
    });
    expect(JSON.stringify((await service.call('GET', '/api/v1/workspace')).body)).not.toContain(service.key);
  });
});

describe('input', () => {
  it.each([
    ['POST', '/api/v1/replays', { log: 5 }, ['log']],
    ['POST', '/api/v1/replays', { log: 'week', at: 'soon' }, ['at']],
    ['POST', '/api/v1/replays', { log: 'week', extra: 1, policy: 'A b' }, ['extra', 'policy']],
    ['PUT', '/api/v1/workspace', {}, ['files']],
    ['PUT', '/api/v1/workspace', { files: [] }, ['files']],
    [
      'PUT',
      '/api/v1/workspace',
      {
        files: [
          { name: 'a', text: '' },
          { name: 'a', text: '' },
        ],
      },
      ['files'],
    ],
    ['PUT', '/api/v1/workspace', { files: [{ name: 7 }], exact: 'yes' }, ['exact', 'files.0.name', 'files.0.text']],
    ['POST', '/api/v1/explanations', { request: { host: 7, colour: 'red' } }, ['request.colour', 'request.host']],
    ['POST', '/api/v1/explanations', {}, ['request']],
    ['GET', '/api/v1/replays/1/requests?limit=0&after=x&verdict=maybe', undefined, ['after', 'limit', 'verdict']],
    ['GET', '/api/v1/replays/1/requests?country=portugal&role=none', undefined, ['country', 'role']],
    ['GET', '/api/v1/replays/1/requests?limit=1001', undefined, ['limit']],
    ['POST', '/api/v1/logs?name=A', undefined, ['name']],
    ['POST', '/api/v1/logs?name=a&format=odd', undefined, ['format']],
    ['PUT', '/api/v1/country-data?source=x&date=2026-13-01', undefined, ['date']],
  ] as const)('%s %s %j reports each value that does not hold', async (method, path, body, paths) => {
    const answer = await service.call(method, path, body);
    expect(answer).toMatchObject({ status: 400, body: { code: 'invalid-input' } });
    expect([...new Set<string>(answer.body.issues.map((issue: { path: string }) => issue.path))].sort()).toEqual([
      ...paths,
    ]);
  });

  it('that is no JSON, no object or too large is refused', async () => {
    const headers = { 'content-type': 'application/json' };
    expect(await service.call('POST', '/api/v1/replays', '{', headers)).toMatchObject({
      status: 400,
      body: { code: 'not-json' },
    });
    expect(await service.call('POST', '/api/v1/replays', '[]', headers)).toMatchObject({
      status: 400,
      body: { code: 'not-an-object' },
    });
    expect(
      await service.call('POST', '/api/v1/session', JSON.stringify({ key: 'x'.repeat(20_000) }), headers),
    ).toMatchObject({ status: 413 });
    expect((await service.call('GET', '/api/v1/policies/%ff')).status).toBe(400);
  });

  it('of a request to explain is read as a log’s would be', async () => {
    const explain = (request: unknown) => service.call('POST', '/api/v1/explanations', { request });
    expect(await explain({ peer: '300.1.1.1' })).toMatchObject({ status: 422, body: { code: 'bad-peer' } });
    expect(await explain({ host: 'a b' })).toMatchObject({ status: 422, body: { code: 'bad-host' } });
    expect(await explain({ host: 'a b', peer: '300.1.1.1', size: -1 })).toMatchObject({ status: 422 });
    expect((await explain({ host: 'a b', peer: 'x' })).body.issues.map(({ path }: { path: string }) => path)).toEqual([
      'request.peer',
      'request.host',
    ]);
    // Every field of the form is taken.
    const whole = {
      ...{ time: '2026-11-15T03:00:00Z', peer: '198.18.7.7', destination: '198.18.9.9', user: 'ines.baltazar' },
      ...{ groups: ['guides'], agent: 'curl/8', referrer: 'https://a.example/', size: 10, status: 200, bytes: 5 },
      ...{ method: 'GET', url: 'https://tickets.fennelhill.example/whats-on?page=2', protocol: 'HTTP/1.1' },
      ...{ headers: { 'x-kind': ['a', 'b'] }, met: ['ticket-site/members'], 'forwarded-for': '198.18.4.4' },
    };
    const { status, body } = await explain(whole);
    expect([status, body.request]).toMatchObject([200, { destination: '198.18.9.9', groups: ['guides'], size: 10 }]);
    // Without a time it is judged now; where the time is given as null it is unseen.
    const timed = async (request: object) => (await explain({ host: 'a.example', ...request })).body.request.time;
    expect(Math.abs(Date.parse(await timed({})) - Date.now())).toBeLessThan(60_000);
    expect(await timed({ time: null })).toBeUndefined();
    expect(await explain({ peer: '10.40.3.7', host: 'Odds.Meadowbet.example' })).toMatchObject({
      status: 200,
      body: { request: { host: 'odds.meadowbet.example' }, explanation: { decidedBy: 'web-for-all' } },
    });
  });
});

describe('answers', () => {
  it('to the six questions come of the API: which were stopped, by which rule, because of what', async () => {
    const { policies } = (await service.call('GET', '/api/v1/replays/1/report')).body;
    const stopping = policies[0].rules.filter(
      (rule: { then: string; decided: number }) => rule.then === 'block' && rule.decided > 0,
    );
    expect(stopping.map((rule: { rule: string }) => rule.rule)).toEqual([
      'staging-for-nobody-else',
      'no-harvesters',
      'back-office-for-us',
      'sign-in-as-meant',
    ]);
    const { requests, next } = (await service.call('GET', '/api/v1/replays/1/requests?rule=back-office-for-us&limit=3'))
      .body;
    expect([requests.length, next]).toEqual([3, requests[2].number]);
    const { explanation } = (await service.call('GET', `/api/v1/replays/1/requests/${requests[0].number}`)).body;
    expect(explanation).toMatchObject({
      decidedBy: 'back-office-for-us',
      client: { how: 'header', source: 'x-forwarded-for' },
    });
  });

  it('to what is not there suggest what is', async () => {
    expect((await service.call('GET', '/api/v1/policies/tiket-site')).body.remedy).toBe('Did you mean `ticket-site`?');
    expect((await service.call('GET', '/api/v1/replays/1/requests?rule=no-harvester')).body.remedy).toBe(
      'Did you mean `no-harvesters`?',
    );
    expect((await service.call('GET', '/api/v1/replays/1/requests?role=blind')).body.code).toBe('role-without-rule');
    expect((await service.call('GET', '/api/v1/replays/1/requests/5001')).body.remedy).toBe(
      'Its requests are numbered 1 to 5000.',
    );
    expect((await service.call('POST', '/api/v1/replays', { log: 'week', policy: 'visitor-wep' })).body.remedy).toBe(
      'Did you mean `visitor-web`?',
    );
    expect((await service.call('GET', '/api/v1/replays/one')).status).toBe(404);
  });

  it('show nothing of the inside, and are safe to show', async () => {
    const response = await fetch(`${service.url}/api/v1/replays/999999999999`, {
      headers: { authorization: `Bearer ${service.key}` },
    });
    expect(response.status).toBe(404);
    expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(response.headers.get('x-content-type-options')).toBe('nosniff');
    expect(response.headers.has('x-powered-by')).toBe(false);
    expect(await response.text()).not.toMatch(/node_modules|Error:| at /);
  });

  it('of a replay that is cancelled say so, and free its log to be deleted', async () => {
    const big = '{"host":"tickets.fennelhill.example","peer":"198.18.0.1","path":"/","method":"GET"}\n'.repeat(600_000);
    expect((await service.call('POST', '/api/v1/logs?name=big', big)).status).toBe(201);
    const { id } = (await service.call('POST', '/api/v1/replays', { log: 'big' })).body;
    expect((await service.call('GET', `/api/v1/replays/${id}/report`)).body.code).toMatch(
      /^replay-(?:running|waiting)$/,
    );
    expect((await service.call('POST', `/api/v1/replays/${id}/cancel`)).body.state).toBe('cancelled');
    expect((await service.call('GET', `/api/v1/replays/${id}/report`)).body.code).toBe('replay-cancelled');
    expect((await service.call('DELETE', '/api/v1/logs/big')).status).toBe(204);
    expect((await service.call('GET', `/api/v1/replays/${id}`)).status).toBe(404);
  });

  it('of a replay that is deleted are no more, and deleting one that runs is refused', async () => {
    const some = '{"host":"tickets.fennelhill.example","peer":"198.18.0.1","path":"/","method":"GET"}\n'.repeat(
      400_000,
    );
    expect((await service.call('POST', '/api/v1/logs?name=some', some)).status).toBe(201);
    const order = async () => (await service.call('POST', '/api/v1/replays', { log: 'some' })).body.id as number;
    const [first, second] = [await order(), await order()];
    // It waits behind the first, or both still run.
    const refused = await service.call('DELETE', `/api/v1/replays/${second}`);
    expect([refused.status, refused.body.code]).toEqual([409, 'replay-running']);
    for (const id of [first, second]) await ended(service, id);
    expect((await service.call('DELETE', `/api/v1/replays/${first}`)).status).toBe(204);
    expect((await service.call('GET', `/api/v1/replays/${first}/requests`)).status).toBe(404);
    const ran = await service.client('replay', 'remove', String(second), '--yes');
    expect([ran.code, ran.out.trim()]).toEqual([0, 'Deleted 1 replay.']);
    expect((await service.client('replay', 'remove', String(second), '--yes')).code).toBe(4);
    expect((await service.client('replay', 'remove', 'second', '--yes')).code).toBe(2);
    const { entries } = (await service.call('GET', '/api/v1/audit?action=replay-deleted')).body;
    expect(entries.map(({ name }: { name: string }) => name).sort()).toEqual([first, second].map(String).sort());
    expect((await service.call('DELETE', '/api/v1/logs/some')).status).toBe(204);
  });

  it('to a time that no calendar has say so', async () => {
    expect(await service.call('POST', '/api/v1/replays', { log: 'week', at: '2026-02-30T00:00:00Z' })).toMatchObject({
      status: 400,
      body: { code: 'bad-time' },
    });
  });

  it('come while a replay runs', async () => {
    const { id } = (await service.call('POST', '/api/v1/replays', { log: 'week' })).body;
    const started = Date.now();
    expect((await service.call('GET', '/health')).status).toBe(200);
    expect(Date.now() - started).toBeLessThan(2000);
    expect(await ended(service, id)).toMatchObject({ state: 'done', done: 5000 });
  });

  it('to two that apply at once are in order: neither loses the other', async () => {
    const apply = (name: string) =>
      service.call('PUT', '/api/v1/workspace', {
        files: [{ name: `${name}.yaml`, text: `list: ${name}\nof: domains\n` }],
      });
    const answers = await Promise.all(['one', 'two', 'three', 'four', 'one'].map(apply));
    expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200, 200]);
    for (const name of ['one', 'two', 'three', 'four'])
      expect((await service.call('GET', `/api/v1/lists/${name}`)).body.version).toBe(1);
  });
});
