import type { IncomingMessage } from 'node:http';
import { describe, expect, it } from 'vitest';
import { grantCookie, grantsIn } from './grant-cookie.js';

const call = (cookie: string | undefined) => ({ headers: { cookie } }) as IncomingMessage;

describe('the grants of a call', () => {
  it.each([
    [undefined, []],
    ['', []],
    ['jade_fence_grants=', []],
    ['jade_fence_grants=a.b', ['a.b']],
    ['jade_fence_grants=a.b~c.d', ['a.b', 'c.d']],
    ['theme=dark; jade_fence_grants=a.b; lang=pt', ['a.b']],
    // A site below another may set one of the same name: what is not signed by us is no grant, so all are looked at.
    ['jade_fence_grants=x; jade_fence_grants=a.b~c.d', ['x', 'a.b', 'c.d']],
    ['jade_fence_grants=~~a.b~~', ['a.b']],
    ['jade_fence_grants', []],
    ['xjade_fence_grants=a.b', []],
    ['JADE_FENCE_GRANTS=a.b', []],
    ['jade_fence_grants=a=b', ['a=b']],
    [' jade_fence_grants=a.b ;;', ['a.b']],
  ])('of the cookies %j are %j', (cookie, grants) => {
    expect(grantsIn(call(cookie))).toEqual(grants);
  });
});

describe('the cookie of grants', () => {
  it('keeps the newest eight, until the last ends, and out of reach of scripts', () => {
    const grants = Array.from({ length: 12 }, (_, at) => `g${at}`);
    const value = grantCookie(grants, Date.now() + 60_500, false);
    expect(value).toMatch(/^jade_fence_grants=g4~g5~g6~g7~g8~g9~g10~g11; Path=\/; Max-Age=60; HttpOnly; SameSite=Lax$/);
    expect(grantsIn(call(value.split(';')[0]))).toEqual(grants.slice(4));
  });

  it('goes over TLS alone where the page came so', () => {
    expect(grantCookie(['a'], Date.now() + 1000, true)).toMatch(/; SameSite=Lax; Secure$/);
  });
});
