import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** A service with nothing in it answers sensibly everywhere. */
let service: TestService;
beforeAll(async () => {
  service = await startService();
});
afterAll(() => service.stop());

describe('an empty workspace', () => {
  it.each([
    ['/health', { status: 'alive' }],
    ['/ready', { status: 'ready' }],
    ['/api/v1/workspace', { policies: [], lists: [], countryData: null }],
    ['/api/v1/logs', { logs: [] }],
    ['/api/v1/replays', { replays: [] }],
    ['/api/v1/country-data', null],
  ])('answers GET %s', async (path, body) => {
    expect(await service.call('GET', path)).toMatchObject({ status: 200, body });
  });

  it.each([
    ['/api/v1/policies/nothing', 404, 'unknown-policy'],
    ['/api/v1/lists/nothing', 404, 'unknown-list'],
    ['/api/v1/logs/nothing', 404, 'unknown-log'],
    ['/api/v1/logs/nothing/rejected', 404, 'unknown-log'],
    ['/api/v1/replays/1', 404, 'unknown-replay'],
    ['/api/v1/replays/1/report', 404, 'unknown-replay'],
    ['/api/v1/replays/1/requests', 404, 'unknown-replay'],
    ['/api/v1/replays/1/requests/1', 404, 'unknown-replay'],
    ['/api/v1/country-data/198.18.0.1', 409, 'country-data-not-loaded'],
    ['/api/v1/nothing', 404, 'unknown-route'],
    ['/api/nothing', 404, 'unknown-version'],
  ])('has no %s: %i %s', async (path, status, code) => {
    const answer = await service.call('GET', path);
    expect(answer).toMatchObject({
      status,
      body: { status, code, detail: expect.any(String), title: expect.any(String) },
    });
    expect(answer.type).toContain('application/problem+json');
  });

  it('refuses a replay of no log, and explains a request that no policy covers', async () => {
    expect(await service.call('POST', '/api/v1/replays', { log: 'week' })).toMatchObject({
      status: 404,
      body: { code: 'unknown-log' },
    });
    expect(await service.call('POST', '/api/v1/explanations', { request: { host: 'a.example' } })).toMatchObject({
      status: 200,
      body: { explanation: null },
    });
  });

  it.each([
    [['service', 'show'], 0, 'The workspace is empty.'],
    [['log', 'list'], 0, 'No log has been imported yet.'],
    [['replay', 'list'], 0, 'No replay has been run yet.'],
    [['replay', 'show'], 4, 'No replay has been run yet.'],
    [['request', 'list'], 4, 'No replay has been run yet.'],
    [['policy', 'show', 'x'], 4, 'There is no policy `x`.'],
    [['log', 'rejected', 'x'], 4, 'There is no log `x`.'],
    [['log', 'remove', 'x'], 4, 'There is no log `x`.'],
    [['replay', 'run', 'x'], 4, 'There is no log `x`.'],
    [['country', 'show', '198.18.0.1'], 4, 'No country data is loaded'],
    [['finding', 'list'], 0, '0 warnings, 0 notes.'],
    [['request', 'explain', '--host', 'a.example'], 0, 'No policy covers this request'],
    [['request', 'explain'], 2, 'No request given.'],
    [['replay', 'run'], 2, 'No log given.'],
  ])('answers %j with exit code %i', async (args, code, shown) => {
    const ran = await service.client(...args);
    expect(`${ran.out}${ran.err}`).toContain(shown);
    expect(ran.code).toBe(code);
  });

  it('replays a log without any policy: everything is uncovered', async () => {
    expect(
      await service.call('POST', '/api/v1/logs?name=tiny', '{"host":"a.example"}\n{"peer":"10.0.0.1"}'),
    ).toMatchObject({ status: 201, body: { requests: 2 } });
    const ran = await service.client('replay', 'run', 'tiny', '--json');
    expect(JSON.parse(ran.out).report).toMatchObject({ requests: 2, uncovered: 2, policies: [], first: null });
    expect((await service.client('request', 'list')).out).toContain('uncovered');
    expect((await service.client('request', 'explain', '--request', '1')).out).toContain('No policy covers');
  });

  it('replays without country data: countries are a blind spot that says so', async () => {
    await service.call('PUT', '/api/v1/workspace', {
      files: [
        {
          name: 'p.yaml',
          text: 'policy: p\ncovers: {hosts: [a.example]}\ndefault: block\nrules: [{rule: r, when: {country: PT}, then: allow}]',
        },
      ],
    });
    const ran = await service.client('replay', 'run', 'tiny');
    expect(ran.out).toContain('`r` could not be judged on one request, which does not show the country.');
    expect((await service.client('service', 'show')).out).toContain('no rule can see a country');
  });
});

describe('a workspace to begin with', () => {
  let empty: TestService;
  beforeAll(async () => {
    empty = await startService();
  });
  afterAll(() => empty?.stop());

  it('takes the catalogue that is offered to begin with', async () => {
    const ran = await empty.client('catalogue', 'import', 'application', `${DEMO}catalogue/protocols.csv`);
    expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('Took 10 rows.')]);
    const more = ['category', `${DEMO}catalogue/hedgerow.csv`, `${DEMO}catalogue/orchard.csv`];
    expect((await empty.client('catalogue', 'import', ...more)).code).toBe(0);
    expect((await empty.client('catalogue', 'import', 'application', `${DEMO}catalogue/garden.csv`)).code).toBe(0);
    const own = readFileSync(`${DEMO}catalogue/protocols.csv`, 'utf8');
    expect(own).not.toMatch(/fennelhill|garden|glasshouse|herbarium/);
  });

  it('says why an import failed, with the others', async () => {
    await empty.call('POST', '/api/v1/logs?name=odd&format=har', 'no archive');
    const { out } = await empty.client('import', 'list');
    expect(out).toMatch(/odd +failed/);
    expect(out).toMatch(/! #\d+: \S.*/);
  });

  it('says of a body which field is wrong, and why', async () => {
    const { status, body } = await empty.call('POST', '/api/v1/replays', { log: 'No Name', at: 'soon' });
    expect([status, body.code]).toEqual([400, 'invalid-input']);
    expect(body.detail).toMatch(/^The body is invalid: `\w+`: .+, and \d+ more\.$/);
    expect(body.issues.map(({ path }: { path: string }) => path).sort()).toEqual(['at', 'log']);
    const one = await empty.call('POST', '/api/v1/replays', { log: 'No Name' });
    expect(one.body.detail).toMatch(/^The body is invalid: `log`: .+\.$/);
  });
});
