import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { API, messageOf, pathOf } from './call.js';
import { MAY_CALL } from './calls.js';
import { whole } from './whole.js';

const text = fc.oneof(
  fc.string({ unit: 'binary', minLength: 1 }).filter((each) => each.isWellFormed()),
  fc.constantFrom('a/b', '..', '?x=1', '#', '%2F', 'ä&b=c', '\u0000', '+', ' '),
);

describe('the path of a call', () => {
  it('holds names and values as they are, whatever is in them, for a parser that is not ours', () => {
    fc.assert(
      fc.property(text, fc.array(text), fc.nat(), (log, redact, limit) => {
        const query = { log, limit, redact, state: undefined };
        const path = pathOf('GET /replays', { query: query as object });
        const { pathname, searchParams, hash } = new URL(path, 'http://service');
        expect([pathname, hash]).toEqual([`${API}/replays`, '']);
        expect(searchParams.get('log')).toBe(log);
        expect(searchParams.getAll('redact')).toEqual(redact);
        expect(searchParams.get('limit')).toBe(String(limit));
        expect(searchParams.has('state')).toBe(false);
      }),
    );
  });

  it('keeps each parameter in its segment', () => {
    fc.assert(
      fc.property(text, text, (kind, name) => {
        fc.pre(![kind, name].some((each) => /^\.{1,2}$/.test(each)));
        const path = pathOf('GET /objects/:kind/:name/users', { params: { kind, name } });
        const segments = new URL(path, 'http://service').pathname.slice(API.length).split('/').map(decodeURIComponent);
        expect(segments).toEqual(['', 'objects', kind, name, 'users']);
      }),
    );
  });
});

describe('a call over HTTP', () => {
  it('names the version that it is for, or that there is none', () => {
    const params = { kind: 'list', name: 'a' };
    expect(messageOf('DELETE /objects/:kind/:name', { params, version: 3 }).headers).toEqual({ 'if-match': '"3"' });
    const made = messageOf('PUT /objects/:kind/:name', { params, version: 'absent', body: { text: 'x' } });
    expect(made).toEqual({
      method: 'PUT',
      path: `${API}/objects/list/a`,
      headers: { 'content-type': 'application/json', 'if-none-match': '*' },
      body: '{"text":"x"}',
    });
  });

  it('carries nothing where it takes nothing', () => {
    expect(messageOf('GET /me')).toEqual({ method: 'GET', path: `${API}/me`, headers: {}, body: undefined });
  });
});

it('has a method, a path and a role for every call', () => {
  for (const [call, role] of Object.entries(MAY_CALL)) {
    expect(call).toMatch(/^(?:GET|POST|PUT|PATCH|DELETE) (?:\/[a-z:][a-z.:-]*)+$/);
    expect(['anyone', 'viewer', 'editor', 'publisher', 'administrator']).toContain(role);
  }
});

describe('all pages of a collection', () => {
  const names = Array.from({ length: 2500 }, (_, at) => `log-${String(at).padStart(4, '0')}`);
  const pagesAsked: unknown[] = [];
  const ask = async ({ query }: { readonly query?: { after?: string | undefined; limit?: number | undefined } }) => {
    pagesAsked.push(query?.after);
    const behind = names.filter((name) => name > (query?.after ?? ''));
    const some = behind.slice(0, query?.limit);
    // biome-ignore lint/suspicious/noExplicitAny: the logs are names alone here
    return { logs: some as any, next: behind.length > some.length ? (some.at(-1) ?? null) : null };
  };

  it('come as one answer, each item once and in order', async () => {
    expect(await whole<'GET /logs'>(ask, {})).toEqual({ logs: names, next: null });
    expect(pagesAsked).toEqual([undefined, 'log-0999', 'log-1999']);
  });

  it('end where a page names no other, or names itself', async () => {
    // biome-ignore lint/suspicious/noExplicitAny: what answers is no service of ours
    const odd = (next: unknown) => async () => ({ logs: [], next }) as any;
    for (const next of [undefined, 'a']) expect((await whole<'GET /logs'>(odd(next), {})).next).toBeNull();
  });
});
