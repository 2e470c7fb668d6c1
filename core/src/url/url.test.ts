import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileGlob, globMatches } from '../pattern/index.js';
import {
  DEFAULT_PATHS,
  formatPathPattern,
  isPathFault,
  normalPath,
  normalQuery,
  parseUrl,
  pathMatches,
  pathPatternUnder,
  pathUnder,
  splitTarget,
  tryPathPattern,
} from './index.js';
import { fewEscapes, pathAsNode, pathStaysNormal, patternsUnderSettings, queryStaysTheSame } from './url.property.js';

describe('the normal form of a path', () => {
  it.each([
    ['', '/'],
    ['/a/./b/../c', '/a/c'],
    ['/a/%2e%2E/b', '/b'],
    ['/a/.%2e/b', '/b'],
    ['/%62ack-office/%7euser', '/back-office/~user'],
    ['/%40x', '/@x'],
    ['/a%2fb%5c%25%3f%23', '/a%2Fb%5C%25%3F%23'],
    ['/a b\t', '/a b\t'],
    ['\\a\\b', '/a/b'],
    ['/\\admin/x', '//admin/x'],
    ['//a//b', '//a//b'],
    ['/A/b', '/A/b'],
    ['/%c3%bc', '/ü'],
    ['/%c3%28%ff', '/%C3(%FF'],
    ['/%c0%ae%c0%ae/x', '/%C0%AE%C0%AE/x'],
    ['/%ef%bb%bfx', '/\ufeffx'],
    ['/a?b#c', '/a%3Fb%23c'],
    ['/../../x', '/x'],
    ['/back-office/%2%65%2%65/x', '/back-office/%252e%252e/x'],
    ['/back-office/.%2%65/x', '/back-office/.%252e/x'],
    ['/%252e%252e/x', '/%252e%252e/x'],
    ['/a/..;/admin', '/a/..;/admin'],
    ['/a//../admin', '/a//../admin'],
    ['/%', '/%25'],
    ['/\ud800', '/\ufffd'],
  ])('of %j is %j', (text, expected) => {
    expect(normalPath(text)).toBe(expected);
    expect(normalPath(expected)).toBe(expected);
  });

  it.each([
    ['//admin/x', {}, '/admin/x'],
    ['//admin/x', { slashes: 'keep' }, '//admin/x'],
    ['/\\admin/x', {}, '/admin/x'],
    ['/a//../admin', {}, '/admin'],
    ['/a//../admin', { slashes: 'keep' }, '/a/admin'],
    ['/a/..;/admin', {}, '/a/..;/admin'],
    ['/a/..;/admin', { parameters: 'drop' }, '/admin'],
    ['/a;v=1/b;x', { parameters: 'drop' }, '/a/b'],
    ['/a/;/../admin', { parameters: 'drop' }, '/admin'],
    ['/Admin/X', { case: 'ignore' }, '/admin/x'],
    ['/Admin/X', {}, '/Admin/X'],
  ] as const)('of %j under %j is %j', (text, given, expected) => {
    expect(pathUnder({ ...DEFAULT_PATHS, ...given }, normalPath(text))).toBe(expected);
  });

  it('stays as it is when it is normal, under any settings', () => {
    fc.assert(pathStaysNormal, { numRuns: 3000 });
  });

  it('is the path that the WHATWG URL parser reads, decoded once', () => {
    fc.assert(pathAsNode, { numRuns: 3000 });
  });

  it('has no escape but of what divides a URL, and of bytes that are no UTF-8', () => {
    fc.assert(fewEscapes, { numRuns: 3000 });
  });

  it('is what the table of the language says, by each setting', () => {
    const text = readFileSync(new URL('../../../docs/language.md', import.meta.url), 'utf8');
    const rows = [...text.matchAll(/^\| (`\/.*) \|$/gm)].map((row) => (row[1] as string).split(' | '));
    expect(rows.length).toBeGreaterThan(6);
    const given = [{}, { slashes: 'keep' }, { case: 'ignore' }, { parameters: 'drop' }] as const;
    for (const [sent = '', ...forms] of rows) {
      const paths = sent.split(', ').map((each) => each.slice(1, -1));
      const shown = forms.map((form) =>
        (form === 'the same' ? forms[0] : form)?.split(', ').map((each) => each.slice(1, -1)),
      );
      for (const [column, expected = []] of shown.entries())
        expect([
          ...new Set(paths.map((path) => pathUnder({ ...DEFAULT_PATHS, ...given[column] }, normalPath(path)))),
        ]).toEqual(expected);
    }
  });

  it('is parted from the query', () => {
    expect(splitTarget('/a?b=c?d#e')).toEqual({ path: '/a', query: 'b=c?d' });
    expect(splitTarget('/a')).toEqual({ path: '/a', query: undefined });
  });
});

describe('a URL', () => {
  it('is one however often it was asked before, with letters outside ASCII too', () => {
    let found = 0;
    for (let at = 0; at < 100_000; at++) if (parseUrl('http:///ü')?.hostname === 'xn--tda') found++;
    expect(found).toBe(100_000);
    for (const none of ['', 'a', 'http://', 'http://[::', '//a.example']) expect(parseUrl(none)).toBeUndefined();
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

describe('the normal form of a query', () => {
  it.each([
    ['action=%64elete', 'action=delete'],
    ['%61ction=delete', 'action=delete'],
    ['&&action=delete&', 'action=delete'],
    ['a=b+c%20d', 'a=b c d'],
    ['a=1%262%3D3%2b%25', 'a=1%262%3D3%2B%25'],
    ['a=%', 'a=%25'],
  ])('of %j is %j', (text, expected) => {
    expect(normalQuery(text)).toBe(expected);
    expect(normalQuery(expected)).toBe(expected);
  });

  it('says the same as before to who reads it as a form', () => {
    fc.assert(queryStaysTheSame, { numRuns: 3000 });
  });
});

describe('patterns', () => {
  const matches = (pattern: string, path: string) => {
    const read = tryPathPattern(pattern);
    if (isPathFault(read)) throw new Error(read.reason);
    return pathMatches(pathPatternUnder(DEFAULT_PATHS, read), pathUnder(DEFAULT_PATHS, normalPath(path)));
  };

  it('are normalised as paths are, so that no spelling slips past', () => {
    expect(matches('/back-office/**', '/%62ack-office/orders')).toBe(true);
    expect(matches('/%62ack-office', '/back-office')).toBe(true);
    expect(matches('/back-office/**', '/x/../back-office/orders')).toBe(true);
    expect(matches('**/export', '/a/b/export')).toBe(true);
    expect(matches('/Back-office', '/back-office')).toBe(false);
    for (const path of ['//back-office/x', '/\\back-office/x', '/x//../back-office/x', '/%2e/back-office/x'])
      expect(matches('/back-office/**', path), path).toBe(true);
    expect(matches('//back-office/**', '/back-office/x')).toBe(true);
  });

  it('are read by the same settings as paths: what a pattern matches, it matches in every spelling', () => {
    fc.assert(patternsUnderSettings, { numRuns: 2000 });
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
    ['*', 'no-slash'],
    ['*/x', 'no-slash'],
    ['~', 'empty-expression'],
    ['/a?b=1', 'query'],
    ['/a#b', 'fragment'],
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
