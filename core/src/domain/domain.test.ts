import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { HASH_START, hashByte, seedHashes, slotFor } from '../column/index.js';
import {
  changedDomainSet,
  domainPatterns,
  domainSet,
  domainSetContains,
  formatDomainPattern,
  parseHost,
  patternMatches,
  slotOfName,
  tryDomainPattern,
  tryHost,
} from './index.js';

describe('the normal form of a host', () => {
  it('is what the WHATWG URL makes of it', () => {
    const label = fc.stringMatching(/^[a-zA-Z0-9]([a-zA-Z0-9-]{0,8}[a-zA-Z0-9])?$/);
    const word = fc.constantFrom('bücher', 'ΣΊΣΥΦΟΣ', 'straße', '例え', 'xn--bcher-kva');
    fc.assert(
      fc.property(fc.array(fc.oneof(label, word), { minLength: 1, maxLength: 4 }), (labels) => {
        const text = labels.join('.');
        let expected: string | undefined;
        try {
          expected = new URL(`http://${text}/`).hostname;
        } catch {
          expected = undefined;
        }
        // A name that ends in a number is an address to a URL, and is refused here unless it is written as one.
        if (expected && /^[0-9.]+$/.test(expected)) expected = expected === text ? expected : undefined;
        expect(parseHost(text)).toBe(expected);
      }),
      { numRuns: 1000 },
    );
  });

  it.each([
    ['Tickets.Fennelhill.EXAMPLE.', 'tickets.fennelhill.example'],
    ['intranet.', 'intranet'],
    ['_srv.fennelhill.example', '_srv.fennelhill.example'],
    ['203.0.113.7', '203.0.113.7'],
    ['[2001:DB8::1]', '[2001:db8::1]'],
    ['::ffff:203.0.113.7', '203.0.113.7'],
  ])('of %s is %s', (text, expected) => {
    expect(parseHost(text)).toBe(expected);
  });

  it.each([
    ['', 'empty'],
    ['.', 'empty'],
    ['a b.example', 'characters'],
    ['https://a.example', 'address'],
    ['a.example/path', 'characters'],
    [`${'a'.repeat(64)}.example`, 'label'],
    [`${'a.'.repeat(150)}example`, 'too-long'],
    ['-a.example', 'label'],
    ['300.1.1.1', 'address'],
    ['a..b', 'label'],
  ])('is refused for %j: %s', (text, fault) => {
    expect(tryHost(text)).toEqual({ fault });
  });
});

describe('patterns', () => {
  const matches = (pattern: string, host: string) => patternMatches(tryDomainPattern(pattern) as never, host);

  it('reach the name, it and all under it, or only what is under it', () => {
    const hosts = ['a.example', 'www.a.example', 'deep.www.a.example', 'ba.example', 'example'];
    expect(hosts.map((host) => matches('a.example', host))).toEqual([true, false, false, false, false]);
    expect(hosts.map((host) => matches('.a.example', host))).toEqual([true, true, true, false, false]);
    expect(hosts.map((host) => matches('*.a.example', host))).toEqual([false, true, true, false, false]);
  });

  it('are written as they are read', () => {
    for (const text of ['a.example', '.a.example', '*.a.example'])
      expect(formatDomainPattern(tryDomainPattern(text) as never)).toBe(text);
  });

  it('in a set mean what they mean alone', () => {
    const host = fc
      .array(fc.constantFrom('a', 'b', 'constructor', '__proto__'), { minLength: 1, maxLength: 4 })
      .map((labels) => labels.join('.'));
    const pattern = fc
      .tuple(fc.constantFrom('exact' as const, 'under' as const, 'only-under' as const), host)
      .map(([reach, name]) => ({ reach, name }));
    fc.assert(
      fc.property(fc.array(pattern, { maxLength: 6 }), host, (patterns, name) => {
        expect(domainSetContains(domainSet(patterns), name)).toBe(patterns.some((each) => patternMatches(each, name)));
      }),
    );
  });

  it('come out of a set as what it means, also of one that was made of another', () => {
    const name = fc.constantFrom('a', 'b', 'a.b', 'b.b', 'c.a.b', 'constructor');
    const reach = fc.constantFrom('exact' as const, 'under' as const, 'only-under' as const);
    const some = fc.array(fc.record({ reach, name }), { maxLength: 8 });
    fc.assert(
      fc.property(some, some, fc.dictionary(name, some, { maxKeys: 3 }), (patterns, added, taken) => {
        const left = new Map(
          Object.entries(taken).map(([of, few]) => [of, few.map((each) => ({ ...each, name: of }))]),
        );
        for (const set of [domainSet(patterns), changedDomainSet(domainSet(patterns), { added, left })]) {
          const all = domainPatterns(set);
          for (const host of ['a', 'b', 'a.b', 'b.b', 'c.a.b', 'x.c.a.b', 'x.constructor', 'constructor'])
            expect(all.some((each) => patternMatches(each, host))).toBe(domainSetContains(set, host));
        }
      }),
    );
  });
});

describe('the names of a set', () => {
  const all = Array.from({ length: 2 ** 17 }, (_, at) => `n${at}.example`);
  const SLOTS = 2 ** 11;
  /** Where the search for a name begins in a table of so many slots, by the secrets of now. */
  const slotNow = (name: string) =>
    slotFor(
      [...name].reduceRight((hash, unit) => hashByte(hash, unit.charCodeAt(0)), HASH_START),
      SLOTS,
    );

  afterEach(() => seedHashes(0x811c9dc5, 0));

  it('cannot be chosen to fall into one slot by who does not know the secrets', () => {
    const chosen = all.filter((name) => slotNow(name) < 16).slice(0, SLOTS / 4);
    expect(chosen).toHaveLength(SLOTS / 4);
    const farthest = () => {
      const set = domainSet(chosen.map((name) => ({ reach: 'exact', name })));
      expect(set.slots).toHaveLength(SLOTS);
      return Math.max(...chosen.map((name) => slotOfName(set, name)));
    };
    expect(farthest()).toBeLessThan(SLOTS / 2);
    seedHashes(0x1234567, 0x89abcdef);
    expect(farthest()).toBeGreaterThan(SLOTS * 0.9);
  });

  it('are found by a thread that has other secrets than the one that made it, which changes it too', () => {
    seedHashes(7, 9);
    const set = domainSet(all.slice(0, 500).map((name) => ({ reach: 'under', name })));
    seedHashes(-8, 10);
    const added = { reach: 'under', name: 'glasshouse.example' } as const;
    const changed = changedDomainSet(structuredClone(set), { added: [added], left: new Map([['n7.example', []]]) });
    for (const name of all.slice(0, 600)) {
      expect(domainSetContains(set, `www.${name}`)).toBe(all.indexOf(name) < 500);
      expect(domainSetContains(changed, `www.${name}`)).toBe(all.indexOf(name) < 500 && name !== 'n7.example');
    }
    expect([set, changed].map((each) => domainSetContains(each, 'a.glasshouse.example'))).toEqual([false, true]);
    expect([set.size, changed.size, domainPatterns(changed).length]).toEqual([500, 500, 500]);
  });
});

describe('the longest names', () => {
  // 253 characters is the most that a host name may have (RFC 1035), and a record keeps the length in one byte.
  const longest = `${`${'a'.repeat(62)}.`.repeat(4).slice(0, 249)}.com`;

  it('are found among others, and nothing longer is', () => {
    expect([longest.length, tryHost(longest)]).toEqual([253, { host: longest }]);
    expect(tryHost(`a${longest}`)).toEqual({ fault: 'too-long' });
    const before = Array.from({ length: 300 }, (_, at) => `b${at}.example`);
    const set = domainSet([...before, longest, 'z.example'].map((name) => ({ reach: 'under', name })));
    for (const name of [...before, longest, 'z.example']) expect(domainSetContains(set, name)).toBe(true);
    // Lengths that end in the same byte, and what only begins or ends like it.
    for (const host of [`${'x.'.repeat(128)}${longest.slice(3)}`, longest.slice(1), `x${longest}`, `${longest}x`])
      expect(domainSetContains(set, host)).toBe(false);
    expect(domainPatterns(set)).toHaveLength(302);
  });
});
