import fc from 'fast-check';
import { type CountryResponse, Reader } from 'mmdb-lib';
import { describe, expect, it } from 'vitest';
import {
  type AddressRange,
  formatAddress,
  formatRange,
  parseAddress,
  prefixesOf,
  tryRange,
} from '../../address/index.js';
import { compileCountryData, readCountryFile } from '../index.js';
import { networkIn } from '../network-in.arbitrary.js';

/*
 * Files are written here by a small writer of our own, after the published format, and read by ours and by another
 * reader, `mmdb-lib`.
 */
type Bits = 24 | 28 | 32;

interface Made {
  readonly recordBits?: Bits;
  readonly version?: 4 | 6;
  /** Lets ::ffff:0:0/96 lead to the IPv4 space, as many files do. */
  readonly alias?: boolean;
  readonly data?: (code: string) => Buffer;
}

const BUILT = Date.UTC(2026, 9, 31, 6) / 1000;

const text = (value: string): Buffer => Buffer.concat([Buffer.from([(2 << 5) | value.length]), Buffer.from(value)]);
const map = (entries: Record<string, Buffer>): Buffer =>
  Buffer.concat([
    Buffer.from([(7 << 5) | Object.keys(entries).length]),
    ...Object.entries(entries).flatMap(([key, value]) => [text(key), value]),
  ]);
const uint = (value: number): Buffer =>
  Buffer.from([(6 << 5) | 4, value >>> 24, (value >>> 16) & 255, (value >>> 8) & 255, value & 255]);
/** An unsigned 64-bit integer, of an extended type. */
const long = (value: number): Buffer =>
  Buffer.from([8, 2, 0, 0, 0, 0, value >>> 24, (value >>> 16) & 255, (value >>> 8) & 255, value & 255]);
const nested = (code: string): Buffer =>
  map({ country: map({ iso_code: text(code), names: map({ en: text('x') }) }), traits: map({}) });

type Node = [Child, Child];
type Child = Node | string | undefined;

function write(
  networks: readonly (readonly [string, string])[],
  { recordBits = 24, version = 6, alias = false, data = nested }: Made = {},
): Uint8Array {
  const root: Node = [undefined, undefined];
  for (const [network, code] of networks) for (const bits of pathsOf(network, version)) put(root, bits, code);
  if (alias) put(root, `${'0'.repeat(80)}${'1'.repeat(16)}`, at(root, '0'.repeat(96)));
  const nodes: Node[] = [];
  const numbers = new Map<Node, number>();
  const number = (node: Node) => {
    if (numbers.has(node)) return;
    numbers.set(node, nodes.push(node) - 1);
    for (const child of node) if (Array.isArray(child)) number(child);
  };
  number(root);
  const codes = [...new Set(networks.map(([, code]) => code))];
  const records = codes.map(data);
  const offsets = records.map((_, index) => records.slice(0, index).reduce((sum, record) => sum + record.length, 0));
  const value = (child: Child) =>
    child === undefined
      ? nodes.length
      : Array.isArray(child)
        ? (numbers.get(child) as number)
        : nodes.length + 16 + (offsets[codes.indexOf(child)] as number);
  const tree = Buffer.concat(nodes.map(([left, right]) => nodeBytes(value(left), value(right), recordBits)));
  const meta = map({
    node_count: uint(nodes.length),
    record_size: uint(recordBits),
    ip_version: uint(version),
    build_epoch: long(BUILT),
    database_type: text('Made-up'),
    binary_format_major_version: uint(2),
    binary_format_minor_version: uint(0),
  });
  return new Uint8Array(
    Buffer.concat([
      tree,
      Buffer.alloc(16),
      ...records,
      Buffer.from([0xab, 0xcd, 0xef]),
      Buffer.from('MaxMind.com'),
      meta,
    ]),
  );
}

function nodeBytes(left: number, right: number, bits: Bits): Buffer {
  const three = (value: number) => [(value >>> 16) & 255, (value >>> 8) & 255, value & 255];
  if (bits === 24) return Buffer.from([...three(left), ...three(right)]);
  if (bits === 28) return Buffer.from([...three(left), ((left >>> 24) << 4) | (right >>> 24), ...three(right)]);
  return Buffer.from([left >>> 24, ...three(left), right >>> 24, ...three(right)]);
}

function pathsOf(network: string, version: 4 | 6): string[] {
  return prefixesOf(tryRange(network) as AddressRange).map(({ address, length }) => {
    const words = address.family === 4 ? [address.value] : address.words;
    const bits = words
      .map((word) => word.toString(2).padStart(32, '0'))
      .join('')
      .slice(0, length);
    return address.family === 4 && version === 6 ? '0'.repeat(96) + bits : bits;
  });
}

function put(root: Node, bits: string, child: Child): void {
  let node = root;
  for (const bit of bits.slice(0, -1)) {
    const side = Number(bit) as 0 | 1;
    if (!Array.isArray(node[side])) node[side] = [node[side] as string, node[side] as string];
    node = node[side] as Node;
  }
  node[Number(bits.at(-1)) as 0 | 1] = child;
}

const at = (root: Node, bits: string): Child =>
  [...bits].reduce<Child>((node, bit) => (Array.isArray(node) ? node[Number(bit) as 0 | 1] : node), root);

const WORLD = [
  ['198.18.0.0/15', 'PT'],
  ['198.18.96.0/20', 'XM'],
  ['203.0.113.0/24', 'ES'],
  ['2001:db8::/32', 'FR'],
  ['2001:db8:40::/48', 'PT'],
] as const;

describe('MMDB files', () => {
  it.each([24, 28, 32] as const)('of %i-bit records are read, with their date', (recordBits) => {
    const file = readCountryFile(write(WORLD, { recordBits }));
    expect([file.format, file.date, file.faults]).toEqual(['mmdb', '2026-10-31', []]);
    const data = compileCountryData(file.networks);
    const country = (address: string) => networkIn(data, parseAddress(address)!)?.code;
    expect(
      ['198.18.1.1', '198.18.97.3', '203.0.113.9', '2001:db8::1', '2001:db8:40::1', '192.0.2.1', '2001:db9::'].map(
        country,
      ),
    ).toEqual(['PT', 'XM', 'ES', 'FR', 'PT', undefined, undefined]);
  });

  it('give the same countries as another reader of the format', () => {
    const network = fc.tuple(
      fc.constantFrom('198.18.0.0', '198.19.0.0', '203.0.113.0', '2001:db8::', '2001:db8:8000::'),
      fc.integer({ min: 17, max: 32 }),
      fc.constantFrom('PT', 'ES', 'XA'),
    );
    const networks = fc
      .array(network, { minLength: 1, maxLength: 12 })
      .map((all) =>
        all
          .map(([base, length, code]) => [`${base}/${Math.min(length, 32)}`, code] as const)
          .filter(([text]) => 'first' in tryRange(text)),
      );
    fc.assert(
      fc.property(
        networks,
        fc.constantFrom(24 as const, 28 as const, 32 as const),
        fc.boolean(),
        fc.array(fc.nat(0x1ffff), { maxLength: 30 }),
        (world, recordBits, alias, probes) => {
          const bytes = write([['192.0.2.0/24', 'FR'], ...world], { recordBits, alias });
          const other = new Reader<CountryResponse>(Buffer.from(bytes));
          const data = compileCountryData(readCountryFile(bytes).networks);
          const addresses = probes.flatMap((probe) => [
            { family: 4 as const, value: 0xc6120000 + probe },
            { family: 6 as const, words: [0x20010db8, probe * 0x8000, 0, 0] as const },
          ]);
          for (const address of addresses)
            expect(networkIn(data, address)?.code).toBe(other.get(formatAddress(address))?.country?.iso_code);
        },
      ),
    );
  });

  it('of IPv4 alone, and with the IPv4 space at a second place, count each network once', () => {
    const four = readCountryFile(write(WORLD.slice(0, 3), { version: 4 }));
    const twice = readCountryFile(write(WORLD.slice(0, 3), { alias: true }));
    const shown = (file: typeof four) => file.networks.map(({ range, code }) => `${formatRange(range)} ${code}`).sort();
    expect(shown(twice)).toEqual(shown(four));
    expect(shown(four)).toContain('198.18.96.0/20 XM');
  });

  it('may have the code elsewhere, or none', () => {
    const codes = (data: (code: string) => Buffer) =>
      readCountryFile(write([['198.18.0.0/15', 'PT']], { data })).networks.map(({ code }) => code);
    expect(codes((code) => map({ country_code: text(code.toLowerCase()) }))).toEqual(['PT']);
    expect(codes((code) => map({ country: text(code) }))).toEqual(['PT']);
    expect(codes(() => map({ city: text('x') }))).toEqual([]);
    expect(readCountryFile(write([['198.18.0.0/15', 'PRT']])).faults).toMatchObject([{ code: 'country-code' }]);
  });

  it('that are cut off or damaged say so, and never hang or throw', () => {
    const whole = write(WORLD);
    const end = whole.length;
    const mark = Buffer.from(whole).indexOf('MaxMind.com');
    fc.assert(
      fc.property(fc.nat(end - 1), fc.nat(255), (place, value) => {
        readCountryFile(Uint8Array.from(whole, (byte, index) => (index === place ? value : byte)));
      }),
      { numRuns: 1500 },
    );
    expect(readCountryFile(whole.subarray(mark - 3)).faults).toMatchObject([{ code: 'damaged' }]);
    expect(readCountryFile(whole.subarray(0, mark + 20)).faults).toMatchObject([{ code: 'damaged' }]);
  });
});
