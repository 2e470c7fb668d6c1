import { afterEach, describe, expect, it, vi } from 'vitest';
import { CallError, call } from './call.js';

afterEach(() => vi.unstubAllGlobals());

/** Has the service answer so; answers what it was asked. */
function answering(status: number, body: string): { readonly asked: [string, RequestInit][] } {
  const asked: [string, RequestInit][] = [];
  vi.stubGlobal('fetch', async (path: string, init: RequestInit) => {
    asked.push([path, init]);
    return new Response(status === 204 ? null : body, { status });
  });
  return { asked };
}

const failed = (made: Promise<unknown>): Promise<CallError> =>
  made.then(
    () => expect.unreachable('the call has not failed'),
    (error) => error as CallError,
  );

describe('a call of the console', () => {
  it('goes to the path of the contract, with what it carries, and says that it is the console’s', async () => {
    const { asked } = answering(200, '{"replays":[],"next":null}');
    expect(await call('GET /replays', { query: { log: 'week & more', mine: true } })).toEqual({
      replays: [],
      next: null,
    });
    expect(asked[0]?.[0]).toBe('/api/v1/replays?log=week%20%26%20more&mine=true');
    expect(asked[0]?.[1]).toMatchObject({ method: 'GET', headers: { 'x-jade-fence-console': '1' } });
    expect(asked[0]?.[1]).not.toHaveProperty('body');
  });

  it('sends a body as JSON, and names with what a path divides by', async () => {
    const { asked } = answering(200, '{}');
    await call('PUT /lists/:name/feed', {
      params: { name: 'a/b?c' },
      body: { from: 'https://lists.hedgerow.example/a', every: '6h', of: 'domains' } as never,
    });
    expect(asked[0]?.[0]).toBe('/api/v1/lists/a%2Fb%3Fc/feed');
    expect(JSON.parse(String(asked[0]?.[1].body))).toMatchObject({ every: '6h' });
    expect(asked[0]?.[1].headers).toMatchObject({ 'content-type': 'application/json' });
  });

  it('answers nothing where there is nothing', async () => {
    answering(204, '');
    expect(await call('POST /proposals/:id/withdraw', { params: { id: 1 } })).toBeUndefined();
  });

  it('fails with everything that the problem says', async () => {
    const problem = {
      ...{ type: 'about:blank', title: 'Conflict', status: 409, code: 'object-changed', detail: 'It was changed.' },
      ...{ remedy: 'Look again.', issues: [{ path: 'text', what: 'is old' }] },
    };
    answering(409, JSON.stringify(problem));
    const error = await failed(call('GET /me'));
    expect(error).toMatchObject({
      status: 409,
      code: 'object-changed',
      message: 'It was changed.',
      remedy: 'Look again.',
    });
    expect(error.issues).toEqual([{ path: 'text', what: 'is old' }]);
  });

  it.each([
    [502, '<html>Bad gateway</html>'],
    [500, ''],
    [503, 'null'],
    [500, '[]'],
  ])('fails where something else answers %i %j', async (status, body) => {
    answering(status, body);
    expect(await failed(call('GET /me'))).toMatchObject({
      status,
      message: `The service answered ${status}.`,
      issues: [],
    });
  });

  it('fails with what to do where nothing answers', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
    expect(await failed(call('GET /me'))).toMatchObject({ status: 0, message: 'The service does not answer.' });
  });
});
