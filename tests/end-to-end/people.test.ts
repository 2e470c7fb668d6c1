import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callApi, launch, newDatabase, queryDatabase, runClient, type TestService } from '../setup/service.js';

/** Who may do what: people, roles, passwords, tokens, four eyes, and what is noted of it. */
let service: TestService;
let database: string;
let folder: string;

beforeAll(async () => {
  database = await newDatabase();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
  const started = await launch(['--port', '0', '--data-dir', folder], {
    ...process.env,
    DATABASE_URL: database,
    NO_COLOR: '1',
  });
  service = { ...started, folder };
});
afterAll(async () => {
  await service.stop();
  rmSync(folder, { recursive: true, force: true });
});

const PASSWORD = 'a fern in every gorge';
const LIST = 'list: home-workers\nof: addresses\nentries: [198.18.4.7]\n';

/** A token of a person with the role, made by them. */
async function tokenOf(name: string, role: string): Promise<string> {
  expect((await service.call('POST', '/api/v1/people', { name, role, password: PASSWORD })).status).toBe(201);
  const cookie = await signedIn(name);
  const made = await callApi(service.url, 'POST', '/api/v1/tokens', { name: 'pipeline' }, cookie);
  expect(made).toMatchObject({ status: 201, body: { role, person: name, secret: expect.any(String) } });
  return made.body.secret;
}

async function signedIn(name: string, password = PASSWORD): Promise<Record<string, string>> {
  const response = await fetch(`${service.url}/api/v1/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name, password }),
  });
  expect(response.status).toBe(201);
  return { cookie: response.headers.get('set-cookie')?.split(';')[0] ?? '', 'x-jade-fence-console': '1' };
}

const as = (token: string, method: string, path: string, body?: unknown, headers = {}) =>
  callApi(service.url, method, path, body, { authorization: `Bearer ${token}`, ...headers });

describe('roles', () => {
  let tokens: Record<string, string>;
  beforeAll(async () => {
    tokens = {
      viewer: await tokenOf('vasco', 'viewer'),
      editor: await tokenOf('edite', 'editor'),
      publisher: await tokenOf('paula', 'publisher'),
    };
  });

  it('let do what is theirs, and nothing above', async () => {
    const put = { files: [{ name: 'a.yaml', text: LIST }] };
    const steps: [string, string, string, unknown][] = [
      ['viewer', 'GET', '/api/v1/workspace', undefined],
      ['editor', 'PUT', '/api/v1/workspace', put],
      ['publisher', 'POST', '/api/v1/revisions', { message: 'Ours', acceptWarnings: true }],
      ['administrator', 'GET', '/api/v1/people', undefined],
    ];
    const roles = ['viewer', 'editor', 'publisher', 'administrator'];
    for (const [needed, method, path, body] of steps)
      for (const role of Object.keys(tokens)) {
        const { status, body: answer } = await as(tokens[role] as string, method, path, body);
        const may = roles.indexOf(role) >= roles.indexOf(needed);
        if (may) expect([200, 201]).toContain(status);
        else expect([status, answer.code]).toEqual([403, 'role-too-low']);
      }
  });

  it('of a token are never more than its person’s, and may be less', async () => {
    const editor = tokens.editor as string;
    expect((await as(editor, 'POST', '/api/v1/tokens', { name: 'more', role: 'publisher' })).body.code).toBe(
      'role-too-high',
    );
    const lesser = (await as(editor, 'POST', '/api/v1/tokens', { name: 'less', role: 'viewer' })).body;
    expect((await as(lesser.secret, 'GET', '/api/v1/me')).body).toEqual({ name: 'edite', role: 'viewer' });
    // A session may do all that its person may: a lesser key does not open one.
    expect((await callApi(service.url, 'POST', '/api/v1/session', { key: lesser.secret }, {})).status).toBe(401);
    await service.call('PATCH', '/api/v1/people/edite', { role: 'viewer' });
    expect((await as(editor, 'PUT', '/api/v1/workspace', { files: [{ name: 'a', text: LIST }] })).status).toBe(403);
    await service.call('PATCH', '/api/v1/people/edite', { role: 'editor' });
  });

  it('do not show others’ tokens, nor let them be deleted', async () => {
    const { tokens: own } = (await as(tokens.viewer as string, 'GET', '/api/v1/tokens')).body;
    expect(own.map(({ person }: { person: string }) => person)).toEqual(['vasco']);
    expect((await as(tokens.viewer as string, 'GET', '/api/v1/tokens?all=true')).status).toBe(403);
    const { tokens: all } = (await service.call('GET', '/api/v1/tokens?all=true')).body;
    const others = all.find(({ person }: { person: string }) => person === 'paula').token;
    expect((await as(tokens.viewer as string, 'DELETE', `/api/v1/tokens/${others}`)).status).toBe(404);
    expect(JSON.stringify(all)).not.toContain('hash');
  });

  it('four eyes: what one proposes another publishes', async () => {
    await service.call('PATCH', '/api/v1/settings', { fourEyes: true });
    const [editor, publisher] = [tokens.editor as string, tokens.publisher as string];
    await as(editor, 'PUT', '/api/v1/workspace', { files: [{ name: 'a', text: LIST.replace('.7', '.8') }] });
    const refused = await as(publisher, 'POST', '/api/v1/revisions', { message: 'Mine', acceptWarnings: true });
    expect(refused).toMatchObject({ status: 403, body: { code: 'four-eyes' } });
    const own = (await as(publisher, 'POST', '/api/v1/proposals', { message: 'Mine' })).body.proposal;
    expect((await as(publisher, 'POST', `/api/v1/proposals/${own}/approve`, {})).body.code).toBe('own-proposal');
    const { proposal } = (await as(editor, 'POST', '/api/v1/proposals', { message: 'One more worker' })).body;
    expect((await as(editor, 'POST', `/api/v1/proposals/${proposal}/approve`, {})).status).toBe(403);
    const approved = await as(publisher, 'POST', `/api/v1/proposals/${proposal}/approve`, { acceptWarnings: true });
    expect(approved).toMatchObject({ status: 201, body: { author: 'edite', approvedBy: 'paula' } });
    expect((await as(publisher, 'POST', `/api/v1/proposals/${proposal}/approve`, {})).body.code).toBe(
      'proposal-published',
    );
    await as(editor, 'PUT', '/api/v1/workspace', { files: [{ name: 'a', text: LIST.replace('.7', '.9') }] });
    const stale = (await as(editor, 'POST', '/api/v1/proposals', { message: 'Another' })).body.proposal;
    await as(editor, 'PUT', '/api/v1/workspace', { files: [{ name: 'a', text: LIST.replace('.7', '.10') }] });
    expect((await as(publisher, 'POST', `/api/v1/proposals/${stale}/approve`, { acceptWarnings: true })).status).toBe(
      412,
    );
    expect((await as(editor, 'GET', '/api/v1/proposals')).body.proposals[0].state).toBe('stale');
    expect((await as(editor, 'POST', `/api/v1/proposals/${stale}/withdraw`)).body.state).toBe('withdrawn');
    expect((await as(editor, 'POST', `/api/v1/proposals/${own}/withdraw`)).body.code).toBe('others-proposal');
    await service.call('PATCH', '/api/v1/settings', { fourEyes: false });
  });
});

describe('signing in', () => {
  it('by password opens a session, whose end and whose person’s end it is', async () => {
    await service.call('POST', '/api/v1/people', { name: 'sol', role: 'viewer', password: PASSWORD });
    const session = await signedIn('sol');
    const me = () => callApi(service.url, 'GET', '/api/v1/me', undefined, session);
    expect((await me()).body).toEqual({ name: 'sol', role: 'viewer' });
    await service.call('PATCH', '/api/v1/people/sol', { disabled: true });
    expect((await me()).status).toBe(401);
    await service.call('PATCH', '/api/v1/people/sol', { disabled: false });
    expect((await me()).status).toBe(401);
  });

  it('takes a new password from who knows the old one', async () => {
    const session = await signedIn('sol');
    const put = (body: object) => callApi(service.url, 'PUT', '/api/v1/me/password', body, session);
    expect(await put({ old: 'not this one', password: 'moss on the north side' })).toMatchObject({ status: 403 });
    expect(await put({ old: PASSWORD, password: 'short' })).toMatchObject({ status: 400 });
    expect((await put({ old: PASSWORD, password: 'moss on the north side' })).status).toBe(204);
    await signedIn('sol', 'moss on the north side');
  });

  it('that fails again and again has to wait', async () => {
    const attempt = () => callApi(service.url, 'POST', '/api/v1/session', { name: 'nobody', password: 'x' }, {});
    const statuses: number[] = [];
    for (let at = 0; at < 11; at++) statuses.push((await attempt()).status);
    expect(statuses).toEqual([...Array(10).fill(401), 429]);
    const waiting = await attempt();
    expect(waiting.body).toMatchObject({ code: 'too-many-tries', remedy: expect.stringContaining('minutes') });
    // Others are not shut out by it.
    await signedIn('sol', 'moss on the north side');
  });

  it('with a token that has run out is refused', async () => {
    expect((await service.call('POST', '/api/v1/tokens', { name: 'old', expires: '2026-01-01' })).body.code).toBe(
      'already-over',
    );
    const { secret, token } = (await service.call('POST', '/api/v1/tokens', { name: 'brief' })).body;
    expect((await as(secret, 'GET', '/api/v1/me')).status).toBe(200);
    await queryDatabase(database, `update tokens set expires_at = now() - interval '1 second' where id = ${token}`);
    expect((await as(secret, 'GET', '/api/v1/me')).status).toBe(401);
  });
});

describe('people', () => {
  it('are cared for by the client', async () => {
    const env = { JADE_FENCE_URL: service.url };
    const run = (...args: string[]) =>
      runClient(['--key-file', join(folder, 'access-key'), ...args], env, `${PASSWORD}\n`);
    expect((await run('person', 'add', 'ines', '--role', 'editor', '--password')).out).toBe('Added ines as editor.\n');
    await signedIn('ines');
    expect((await run('person', 'list')).out).toMatch(/ines +editor +with a password/);
    expect((await run('person', 'set', 'ines', '--role', 'viewer', '--disable')).out).toContain('may not sign in');
    expect((await run('person', 'remove', 'ines', '--yes')).code).toBe(0);
    expect((await run('person', 'remove', 'ines', '--yes')).err).toContain('There is no person `ines`');
    expect((await run('person', 'add', 'Ines!')).err).toContain('begins and ends with a letter or digit');
    const key = (await run('token', 'add', 'pipeline', '--role', 'viewer')).out.trim();
    expect((await as(key, 'GET', '/api/v1/me')).body).toEqual({ name: 'administrator', role: 'viewer' });
    expect((await run('token', 'list')).out).toMatch(/pipeline +administrator +viewer/);
  });

  it('always have an administrator among them', async () => {
    for (const change of [{ role: 'viewer' }, { disabled: true }])
      expect((await service.call('PATCH', '/api/v1/people/administrator', change)).body.code).toBe(
        'last-administrator',
      );
    expect((await service.call('DELETE', '/api/v1/people/administrator')).body.code).toBe('last-administrator');
    expect((await service.call('GET', '/api/v1/people')).status).toBe(200);
  });

  it('have passwords that nobody can read', async () => {
    const rows = await queryDatabase(
      database,
      'select password from people where password is not null union select hash from tokens',
    );
    for (const { password } of rows) expect(password).toMatch(/^scrypt\$32768\$8\$1\$|^[0-9a-f]{64}$/);
  });
});

describe('the audit', () => {
  it('says who did what, and is exported', async () => {
    const { entries } = (await service.call('GET', '/api/v1/audit?limit=1000')).body;
    const did = entries.map(({ actor, action, kind, name }: Record<string, string>) =>
      [actor, action, kind, name].join(' '),
    );
    expect(did).toContain('edite object-added list home-workers');
    expect(did).toContain('paula published revision 1');
    expect(did).toContain('administrator setting-changed setting fourEyes');
    expect(did).toContain(' sign-in-failed  ');
    expect(JSON.stringify(entries)).not.toContain(PASSWORD);
    const csv = await service.call('GET', '/api/v1/audit.csv?action=published');
    expect(csv.body.split('\n')[0]).toBe('id,at,actor,action,kind,name,detail');
    const lines = (await service.call('GET', '/api/v1/audit.jsonl')).body.trim().split('\n');
    expect(lines.length).toBeGreaterThanOrEqual(entries.length);
    expect((await service.client('audit', 'list', '--action', 'published')).out).toContain('paula');
  });

  it('is never changed, not even in the database', async () => {
    for (const change of ["update audit set actor = 'nobody'", 'delete from audit', 'truncate audit'])
      await expect(queryDatabase(database, change)).rejects.toThrow('never changed');
  });
});
