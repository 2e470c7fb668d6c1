import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { API, MAY_CALL } from '@jade-fence/contract';
import { validate } from '@readme/openapi-parser';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callsSchema, holdToContract } from '../setup/answers.js';
import { type Answer, callApi, launch, newDatabase, queryDatabase, type TestService } from '../setup/service.js';

/** Every route that the service describes is called by who may not, and with what it does not take. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
let service: Omit<TestService, 'folder'>;
let tokens: Record<string, string>;

interface Operation {
  readonly 'x-role': string;
  readonly 'x-largest-body'?: string;
  readonly operationId: string;
  readonly parameters: readonly { readonly name: string; readonly in: string; readonly required: boolean }[];
  readonly requestBody?: { readonly content: Record<string, unknown> };
  readonly responses: Record<string, { readonly content?: Record<string, object> }>;
}
interface Route {
  readonly method: string;
  readonly path: string;
  readonly operation: Operation;
}
let routes: Route[];
// biome-ignore lint/suspicious/noExplicitAny: the description is checked by a parser that we did not write
let description: any;

const ROLES = ['viewer', 'editor', 'publisher', 'administrator'];

beforeAll(async () => {
  const database = await newDatabase();
  service = await launch(['--port', '0', '--data-dir', folder], {
    ...process.env,
    DATABASE_URL: database,
    NO_COLOR: '1',
  });
  description = (await service.call('GET', '/api/v1/openapi.json')).body;
  routes = Object.entries(description.paths as Record<string, Record<string, Operation>>).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ method: method.toUpperCase(), path, operation })),
  );
  tokens = {};
  for (const role of [...ROLES, 'expired']) {
    const named = { name: role, role: role === 'expired' ? 'administrator' : role };
    tokens[role] = (await service.call('POST', '/api/v1/tokens', named)).body.secret;
  }
  await queryDatabase(database, "update tokens set expires_at = now() - interval '1 second' where name = 'expired'");
});
afterAll(async () => {
  await service.stop();
  rmSync(folder, { recursive: true, force: true });
});

it('holds answers to what it describes', () => {
  expect(() => holdToContract('GET', '/api/v1/logs', { logs: [{ name: 'week' }] })).toThrow('must have required');
  expect(() => holdToContract('GET', '/api/v1/me', { name: 'mo', role: 'editor', more: 1 })).toThrow('additional');
  expect(() => holdToContract('GET', '/api/v1/me?x=1', { name: 'mo', role: 'editor' })).not.toThrow();
});

it('has a route for each call of the contract, and no other, for whom the contract says', () => {
  const described = routes.map(({ method, path, operation }) => {
    const call = `${method} ${path.slice(API.length).replace(/\{(\w+)\}/g, ':$1')}`;
    return [call, operation['x-role']];
  });
  expect(Object.fromEntries(described)).toEqual(MAY_CALL);
  expect(described.length).toBe(Object.keys(MAY_CALL).length);
});

it('takes of each call what the contract says, by the same names', () => {
  const { Calls, ...others } = callsSchema().definitions;
  // biome-ignore lint/suspicious/noExplicitAny: schemas of every shape
  const names = (schema: any, all: any): string[] => {
    if (schema === undefined) return [];
    if (schema.$ref) return names(all[schema.$ref.split('/').at(-1)], all);
    const own = Object.keys(schema.properties ?? {}).map((name) => name + (schema.required?.includes(name) ? '' : '?'));
    return [...new Set([...own, ...(schema.allOf ?? []).flatMap((part: unknown) => names(part, all))])].sort();
  };
  for (const { method, path, operation } of routes) {
    const call = `${method} ${path.slice(API.length).replace(/\{(\w+)\}/g, ':$1')}`;
    const { query, body } = Calls.properties[call]?.properties ?? {};
    const inQuery = operation.parameters
      .filter((each) => each.in === 'query')
      .map(({ name, required }) => name + (required ? '' : '?'));
    expect([call, inQuery.sort()]).toEqual([call, names(query, others)]);
    const sent = operation.requestBody?.content['application/json'] as { readonly schema: object } | undefined;
    expect([call, names(sent?.schema, description.components.schemas)]).toEqual([call, names(body, others)]);
  }
});

it('describes what each call answers in JSON', () => {
  const others = routes.flatMap(({ method, path, operation }) => {
    const [answer] = Object.entries(operation.responses).filter(([status]) => status.startsWith('2'));
    const json = answer?.[1].content?.['application/json'];
    return json === undefined || 'schema' in json ? [] : [`${method} ${path}`];
  });
  expect(others).toEqual(['GET /api/v1/openapi.json']);
});

const call = ({ method, path }: Route, token: string | undefined, body?: unknown): Promise<Answer> =>
  callApi(
    service.url,
    method,
    path.replace(/\{\w+\}/g, '1'),
    body,
    token === undefined ? {} : { authorization: `Bearer ${token}` },
  );

/** Calls all routes that the filter leaves, and expects each to be refused like that. */
async function refused(
  chosen: (route: Route) => boolean,
  ask: (route: Route) => Promise<Answer>,
  status: number,
  code: string,
): Promise<void> {
  const some = routes.filter(chosen);
  expect(some.length).toBeGreaterThan(3);
  const answers = await Promise.all(
    some.map(async (route) => {
      const { status: seen, type, body } = await ask(route);
      return `${route.method} ${route.path}: ${seen} ${type.split(';')[0]} ${body?.code}`;
    }),
  );
  expect(answers).toEqual(
    some.map(({ method, path }) => `${method} ${path}: ${status} application/problem+json ${code}`),
  );
}

const takesJson = ({ operation }: Route) => operation.requestBody?.content['application/json'] !== undefined;
const isClosed = ({ operation }: Route) => operation['x-role'] !== 'anyone';

describe('the description of the API', () => {
  it('holds, by a parser that is not ours, and names each operation once', async () => {
    expect(await validate(structuredClone(description))).toMatchObject({ valid: true });
    const ids = routes.map(({ operation }) => operation.operationId);
    expect(new Set(ids).size).toBe(ids.length);
    expect(routes.length).toBeGreaterThan(60);
    for (const { operation } of routes) expect([...ROLES, 'anyone']).toContain(operation['x-role']);
  });

  it('opens to everyone nothing but signing in and out', () => {
    const open = routes.filter((route) => !isClosed(route)).map(({ method, path }) => `${method} ${path}`);
    expect(open).toEqual(['POST /api/v1/session', 'DELETE /api/v1/session']);
  });
});

describe('every route refuses', () => {
  it('who has not signed in', () =>
    refused(isClosed, (route) => call(route, undefined, takesJson(route) ? {} : undefined), 401, 'sign-in-required'));

  it('a token that is none', () => refused(isClosed, (route) => call(route, 'x'.repeat(43)), 401, 'sign-in-required'));

  it('a token that has run out', () =>
    refused(isClosed, (route) => call(route, tokens.expired), 401, 'sign-in-required'));

  it.each(['viewer', 'editor', 'publisher'])('a %s, where it is for more', (role) =>
    refused(
      ({ operation }) => ROLES.indexOf(operation['x-role']) > ROLES.indexOf(role),
      (route) => call(route, tokens[role], takesJson(route) ? {} : undefined),
      403,
      'role-too-low',
    ),
  );

  it('a body that is no JSON', () =>
    refused(
      takesJson,
      ({ method, path }) =>
        callApi(service.url, method, path.replace(/\{\w+\}/g, '1'), '{"a":', {
          authorization: `Bearer ${tokens.administrator}`,
          'content-type': 'application/json',
        }),
      400,
      'not-json',
    ));

  it('a body that is no object', () =>
    refused(takesJson, (route) => call(route, tokens.administrator, [1]), 400, 'not-an-object'));

  it('a body with what it does not know', () =>
    refused(takesJson, (route) => call(route, tokens.administrator, { surprise: 1 }), 400, 'invalid-input'));

  it('a body that is too large', () =>
    refused(
      ({ operation }) => operation['x-largest-body']?.endsWith('kb') === true,
      (route) => call(route, tokens.administrator, { surprise: 'x'.repeat(300 * 1024) }),
      413,
      'body-too-large',
    ));
});

describe('figures of the service', () => {
  it('are reported in the text format of Prometheus, by route and never by what was written', async () => {
    await service.call('GET', '/api/v1/logs/some-secret-name');
    const { body, type } = await service.call('GET', '/api/v1/metrics');
    expect(type).toContain('text/plain');
    expect(body).toMatch(/jade_fence_http_request_seconds_count\{method="GET",route="\/logs\/:name",status="404"\} 1/);
    expect(body).toContain('jade_fence_revision 0');
    expect(body).not.toContain('some-secret-name');
  });
});
