import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Address, formatRange, networkOf, parseAddress, rangeContains, rangeSize } from '../address/index.js';
import {
  type CountryNetwork,
  compileCountryData,
  countryCodes,
  countryName,
  isCountryCode,
  originOf,
  readCountryCsv,
  readCountryFile,
} from './index.js';
import { networkIn } from './network-in.arbitrary.js';

const bytes = (text: string) => new TextEncoder().encode(text);

describe('codes', () => {
  it('are the 249 assigned ones, each with an English name, and those for one’s own use', () => {
    expect(countryCodes()).toHaveLength(249);
    expect(countryCodes().filter((code) => countryName(code) === undefined)).toEqual([]);
    expect(['XA', 'XZ', 'QM', 'QZ', 'AA', 'ZZ'].every(isCountryCode)).toBe(true);
    expect(['UK', 'QL', 'pt', 'P', 'PRT', ''].some(isCountryCode)).toBe(false);
    expect(countryName('PT')).toBe('Portugal');
    expect(countryName('XA')).toBeUndefined();
  });
});

describe('reading CSV', () => {
  it('takes both kinds of rows, comments, a header, quotes and any line ends', () => {
    const { networks, faults } = readCountryCsv(
      '\uFEFFnetwork,country\r\n# made up\r198.18.0.0/18,pt\n"198.18.64.0","198.18.79.255","ES"\n\n2001:db8::/32,XA',
    );
    expect(faults).toEqual([]);
    expect(networks.map(({ code, line }) => [code, line])).toEqual([
      ['PT', 3],
      ['ES', 4],
      ['XA', 6],
    ]);
  });

  it('passes over a header behind comments and empty lines, and none further down', () => {
    const shown = (text: string) => {
      const { networks, faults } = readCountryCsv(text);
      return [networks.map(({ line }) => line), faults.map(({ line }) => line)];
    };
    expect(shown('# of the garden\n\n# made up\nnetwork,code\n198.18.0.0/18,PT\n')).toEqual([[5], []]);
    expect(shown('198.18.0.0/18,PT\nnetwork,code\n')).toEqual([[1], [2]]);
  });

  it('takes addresses as decimal numbers: both below 2^32 are IPv4, others IPv6', () => {
    const shown = (text: string) =>
      readCountryCsv(text).networks.map(({ range, code }) => `${formatRange(range)} ${code}`);
    expect(shown('16777216,16777471,AU')).toEqual(['1.0.0.0/24 AU']);
    expect(shown('"42540766411282592856903984951653826560","42540766490510755371168322545197776895","PT"')).toEqual([
      '2001:db8::/32 PT',
    ]);
    expect(shown('0,4294967295,PT')).toEqual(['0.0.0.0/0 PT']);
    expect(readCountryCsv(`0,${2n ** 128n},PT\n5,4,PT\n16777216,1.0.0.255,PT`).faults.map(({ code }) => code)).toEqual([
      'address',
      'range',
      'address',
    ]);
    const address = fc.oneof(fc.ipV4(), fc.ipV6());
    fc.assert(
      fc.property(address, (text) => {
        const found = parseAddress(text);
        if (!found || (found.family === 6 && numberOf(found) < 2n ** 32n)) return;
        const number = numberOf(found);
        expect(shown(`${number},${number},PT`)).toEqual([`${formatRange({ first: found, last: found })} PT`]);
      }),
      { numRuns: 500 },
    );
  });

  const numberOf = (address: Address): bigint =>
    address.family === 4
      ? BigInt(address.value)
      : address.words.reduce((whole, word) => (whole << 32n) + BigInt(word), 0n);

  it('reports every row that does not hold, and keeps the others', () => {
    const rows = [
      '198.18.0.0/15,PT',
      '198.18.0.1/15,PT',
      '10.0.0.0/8',
      'a,b,c,d',
      '10.0.0.9,10.0.0.1,PT',
      '10.0.0.0/8,Portugal',
      '198.18.0.0/15,ES',
      '198.18.0.0/15,PT',
      `1.2.3.4,${'x'.repeat(2000)}`,
    ];
    const { networks, faults } = readCountryCsv(rows.join('\n'));
    expect(networks.map((network) => network.line)).toEqual([1]);
    expect(faults.map(({ line, code }) => `${line} ${code}`)).toEqual([
      '2 address',
      '3 columns',
      '4 columns',
      '5 range',
      '6 country-code',
      '7 conflict',
      '9 too-long',
    ]);
  });
});

describe('reading registry statistics', () => {
  const STATISTICS = `# made up
2|exampleregistry|20261101|7|19850701|20261031|+0000
exampleregistry|*|ipv4|*|5|summary
exampleregistry|PT|ipv4|198.18.0.0|512|20100101|allocated|A1
exampleregistry|ES|ipv4|198.18.2.0|768|20100101|assigned|A2
exampleregistry||ipv4|198.18.5.0|256||available|
exampleregistry|PT|asn|64500|1|20100101|allocated|A1
exampleregistry|XA|ipv6|2001:db8:40::|48|20100101|allocated|A3
exampleregistry|EU|ipv4|198.19.0.0|256|20100101|allocated|A4
exampleregistry|PT|ipv4|255.255.255.0|512|20100101|allocated|A5
exampleregistry|PT|ipv6|198.18.0.0|32|20100101|allocated|A6
exampleregistry|PT|ipv4
`;

  it('takes what is allocated or assigned, in ranges of any length, with the date', () => {
    const { format, networks, faults, date } = readCountryFile(bytes(STATISTICS));
    expect([format, date]).toEqual(['rir-statistics', '2026-10-31']);
    expect(networks.map(({ range, code, line }) => `${formatRange(range)} ${code} ${line}`)).toEqual([
      '198.18.0.0/23 PT 4',
      '198.18.2.0-198.18.4.255 ES 5',
      '2001:db8:40::/48 XA 8',
    ]);
    expect(faults.map(({ line, code }) => `${line} ${code}`)).toEqual([
      '9 country-code',
      '10 address',
      '11 address',
      '12 columns',
    ]);
  });

  it('is not taken for CSV, nor CSV for it', () => {
    expect(readCountryFile(bytes('198.18.0.0/15,PT')).format).toBe('csv');
    expect(readCountryFile(bytes('')).format).toBe('csv');
    expect(readCountryFile(bytes(`\uFEFF\r\n${STATISTICS.replaceAll('\n', '\r\n')}`)).networks).toHaveLength(3);
  });
});

describe('the country of an address', () => {
  /** Networks of any size over one small space, with ranges that nest and overlap. */
  const network = fc
    .tuple(fc.nat(300), fc.nat(300), fc.constantFrom('PT', 'ES', 'XA', 'XB'))
    .map(([a, b, code]): Omit<CountryNetwork, 'line'> => {
      return {
        range: { first: { family: 4, value: Math.min(a, b) }, last: { family: 4, value: Math.max(a, b) } },
        code,
      };
    });

  it('is that of the narrowest network that holds it', () => {
    fc.assert(
      fc.property(fc.array(network, { maxLength: 25 }), (rows) => {
        const networks = rows.map((row, line) => ({ ...row, line }));
        const data = compileCountryData(networks);
        for (let value = 0; value <= 302; value++) {
          const address = { family: 4 as const, value };
          const holding = networks
            .filter(({ range }) => rangeContains(range, address))
            .map(({ range }) => rangeSize(range));
          const narrowest = holding.reduce<bigint | undefined>(
            (least, size) => (least === undefined || size < least ? size : least),
            undefined,
          );
          const found = networkIn(data, address);
          expect(found && rangeSize(found.range)).toBe(narrowest);
          if (found) expect(rangeContains(found.range, address)).toBe(true);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('comes from the data first, then is private, then unknown', () => {
    const data = compileCountryData([{ range: networkOf(parseAddress('198.18.0.0')!, 16), code: 'PT', line: 1 }]);
    const country = (text: string) => originOf({ data, corrections: undefined }, parseAddress(text)!)?.country;
    expect(['198.18.1.1', '198.19.1.1', '10.0.0.1', '8.8.0.1', '2001:db8::1', '2a00::1'].map(country)).toEqual([
      'PT',
      'private',
      'private',
      'unknown',
      'private',
      'unknown',
    ]);
  });
});
