import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileGlob, globMatches } from '../pattern/index.js';
import { formatPathPattern, isPathFault, normalPath, pathMatches, splitTarget, tryPathPattern } from './index.js';

describe('the normal form of a path', () => {
  it.each([
    ['', '/'],
    ['/a/./b/../c', '/a/c'],
    ['/a/%2e%2E/b', '/b'],
    ['/%62ack-office/%7euser', '/back-office/~user'],
    ['/a%2fb', '/a%2Fb'],
    ['/a b\t', '/a%20b%09'],
    ['\\a\\b', '/a/b'],
    ['//a//b', '//a//b'],
    ['/A/b', '/A/b'],
    ['/ü', '/%C3%BC'],
    ['/a?b#c', '/a%3Fb%23c'],
    ['/../../x', '/x'],
  ])('of %j is %j', (text, expected) => {
    expect(normalPath(text)).toBe(expected);
  });

  it('stays as it is when it is normal', () => {
    fc.assert(fc.property(fc.webPath(), (path) => normalPath(normalPath(path)) === normalPath(path)));
  });

  it('is the path that the WHATWG URL tells, but for needless encoding', () => {
    const plain = fc.stringMatching(/^\/[a-z./~_-]{0,20}$/);
    fc.assert(
      fc.property(
        plain,
        (path) =>
          normalPath(path) === new URL(`http://h${path.replace(/^\/\/+/, '/')}`).pathname || path.startsWith('//'),
      ),
    );
  });

  it('is parted from the query', () => {
    expect(splitTarget('/a?b=c?d#e')).toEqual({ path: '/a', query: 'b=c?d' });
    expect(splitTarget('/a')).toEqual({ path: '/a', query: undefined });
  });
});

describe('globs', () => {
  it('match as a regular expression of the same meaning does', () => {
    const glob = fc
      .array(fc.constantFrom('a', 'b', '/', '*', '**', 'ab'), { maxLength: 8 })
      .map((parts) => `/${parts.join('')}`);
    const path = fc.array(fc.constantFrom('a', 'b', '/'), { maxLength: 10 }).map((parts) => `/${parts.join('')}`);
    fc.assert(
      fc.property(glob, path, (text, target) => {
        const expected = new RegExp(`^${text.replace(/\*+/g, (stars) => (stars.length > 1 ? '.*' : '[^/]*'))}$`).test(
          target,
        );
        expect(globMatches(compileGlob(text), target)).toBe(expected);
      }),
      { numRuns: 5000 },
    );
  });

  it('take time in proportion to the path, however many stars there are', () => {
    const glob = compileGlob(`/${'*a'.repeat(300)}b`);
    const started = performance.now();
    expect(globMatches(glob, `/${'a'.repeat(5000)}`)).toBe(false);
    expect(performance.now() - started).toBeLessThan(5000);
  });
});

describe('patterns', () => {
  const matches = (pattern: string, path: string) => {
    const read = tryPathPattern(pattern);
    if (isPathFault(read)) throw new Error(read.reason);
    return pathMatches(read, normalPath(path));
  };

  it('are normalised as paths are, so that no spelling slips past', () => {
    expect(matches('/back-office/**', '/%62ack-office/orders')).toBe(true);
    expect(matches('/%62ack-office', '/back-office')).toBe(true);
    expect(matches('/back-office/**', '/x/../back-office/orders')).toBe(true);
    expect(matches('**/export', '/a/b/export')).toBe(true);
    expect(matches('/Back-office', '/back-office')).toBe(false);
  });

  it('may be expressions, found anywhere in the path, in linear time', () => {
    expect(matches('~^/calls/v[01]/', '/calls/v1/slots')).toBe(true);
    expect(matches('~/v[01]/', '/calls/v2/slots')).toBe(false);
    const evil = tryPathPattern('~^/(a+)+$');
    const started = performance.now();
    expect(!isPathFault(evil) && pathMatches(evil, `/${'a'.repeat(3000)}!`)).toBe(false);
    expect(performance.now() - started).toBeLessThan(5000);
  });

  it.each([
    ['account', 'no-slash'],
    ['~(', 'expression'],
    ['~(?=a)', 'expression'],
    ['~(a)\\1', 'expression'],
  ])('refuse %s: %s', (text, reason) => {
    expect(tryPathPattern(text)).toMatchObject({ reason });
  });

  it('have their longest, so that no expression of a megabyte is compiled', () => {
    expect(tryPathPattern(`~${'a'.repeat(1_000_000)}`)).toEqual({ reason: 'too-long' });
    expect(tryPathPattern(`/${'a'.repeat(3000)}`)).toEqual({ reason: 'too-long' });
  });

  it('are written as they are meant', () => {
    expect(['/a/../b', '/a/*', '~x'].map((text) => formatPathPattern(tryPathPattern(text) as never))).toEqual([
      '/b',
      '/a/*',
      '~x',
    ]);
  });
});
