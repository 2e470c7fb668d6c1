import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress } from '../address/index.js';
import { compileCountryData, coverageOf, readCountryCsv } from './index.js';
import { networkIn } from './network-in.arbitrary.js';

const dataOf = (csv: string) => compileCountryData(readCountryCsv(csv).networks);

describe('the coverage of country data', () => {
  it('counts an address for the narrowest network that holds it', () => {
    const { addresses4, sites6, byCountry } = coverageOf(
      dataOf('198.18.0.0/24,PT\n198.18.0.128/25,ES\n198.18.0.192/26,PT\n2001:db8::/47,XA\n'),
    );
    expect([addresses4, sites6]).toEqual([256, 2]);
    expect(byCountry).toEqual([
      { country: 'PT', networks: 2, addresses4: 192 },
      { country: 'ES', networks: 1, addresses4: 64 },
      { country: 'XA', networks: 1, addresses4: 0 },
    ]);
  });

  it('is what asking for every address gives', () => {
    const network = fc
      .tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 24, max: 32 }), fc.constantFrom('PT', 'ES', 'FR'))
      .map(([last, bits, country]) => `198.18.0.${last & ~(2 ** (32 - bits) - 1)}/${bits},${country}`);
    fc.assert(
      fc.property(fc.array(network, { minLength: 1, maxLength: 12 }), (lines) => {
        const data = dataOf(lines.join('\n'));
        const counted = new Map<string, number>();
        for (let last = 0; last < 256; last++) {
          const found = networkIn(data, parseAddress(`198.18.0.${last}`) as never);
          if (found) counted.set(found.code, (counted.get(found.code) ?? 0) + 1);
        }
        const { byCountry, addresses4, countries } = coverageOf(data);
        const shown = byCountry.filter((each) => each.addresses4 > 0).map((each) => [each.country, each.addresses4]);
        expect(new Map(shown as [string, number][])).toEqual(counted);
        expect(addresses4).toBe([...counted.values()].reduce((sum, each) => sum + each, 0));
        expect(byCountry).toHaveLength(countries);
      }),
      { numRuns: 100 },
    );
  });
});
