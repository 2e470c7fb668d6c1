import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  addressSet,
  formatAddress,
  formatPrefix,
  isRangeFault,
  networkOf,
  parseAddress,
  prefixesOf,
  rangeContains,
  setContains,
  tryRange,
} from '../../core/src/address/index.js';
import { newDatabase } from '../setup/service.js';

/*
 * Address matching held equal to PostgreSQL's inet operators, which we did not write. Cases are generated from a fixed
 * seed, close together so that they often match, and asked of the database in one query.
 */
const SEED = 1759;
const CASES = 4000;

const address4 = fc
  .tuple(fc.constantFrom(0x0a280000, 0xc6120000, 0xffffff00), fc.nat(1023))
  .map(([base, low]) => formatAddress({ family: 4, value: (base + low) >>> 0 }));
const address6 = fc
  .tuple(fc.constantFrom('2001:db8:40::', 'fe80::', '::'), fc.nat(0xfff))
  .map(([base, low]) => formatAddress(parseAddress(`${base}${low.toString(16)}`)!));
const anyAddress = fc.oneof(
  address4,
  address6,
  fc.ipV4(),
  fc.ipV6().filter((text) => !/[.]/.test(text)),
);

let database: pg.Client;

beforeAll(async () => {
  database = new pg.Client({ connectionString: await newDatabase() });
  await database.connect();
});
afterAll(() => database.end());

async function ask<T>(expression: string, a: readonly string[], b: readonly string[]): Promise<T[]> {
  const sql = `select (${expression}) as answer from unnest($1::text[], $2::text[]) with ordinality as t(a, b, n) order by n`;
  const { rows } = await database.query<{ answer: T }>(sql, [a, b]);
  return rows.map((row) => row.answer);
}

describe('addresses, as PostgreSQL’s inet has them', () => {
  it('lie in the same networks', async () => {
    const cases = fc.sample(fc.tuple(anyAddress, anyAddress, fc.nat(128)), { numRuns: CASES, seed: SEED });
    const networks = cases.map(([, base, bits]) => {
      const address = parseAddress(base)!;
      const length = bits % (address.family === 4 ? 33 : 129);
      return formatPrefix({ address: networkOf(address, length).first, length });
    });
    const probes = cases.map(([probe]) => formatAddress(parseAddress(probe)!));
    const ours = networks.map((network, at) => {
      const range = tryRange(network);
      return !isRangeFault(range) && rangeContains(range, parseAddress(probes[at]!)!);
    });
    expect(await ask<boolean>('a::inet <<= b::cidr', probes, networks)).toEqual(ours);
    expect(ours.filter(Boolean).length).toBeGreaterThan(CASES / 20);
  });

  it('have the same networks of each length, and the same host bits', async () => {
    const cases = fc.sample(fc.tuple(anyAddress, fc.nat(128)), { numRuns: CASES, seed: SEED });
    const addresses = cases.map(([text]) => parseAddress(text)!);
    const lengths = cases.map(([, bits], at) => bits % (addresses[at]!.family === 4 ? 33 : 129));
    const ours = addresses.map(
      (address, at) => `${formatAddress(networkOf(address, lengths[at]!).first)}/${lengths[at]}`,
    );
    const answers = await ask<string>(
      'set_masklen(network(set_masklen(a::inet, b::int)), b::int)::inet::text',
      addresses.map(formatAddress),
      lengths.map(String),
    );
    // PostgreSQL leaves out the length of a whole address.
    expect(answers.map((text, at) => (text.includes('/') ? text : `${text}/${lengths[at]}`)).map(normal)).toEqual(
      ours.map(normal),
    );
    const valid = await ask<boolean>(
      "(a || '/' || b)::inet = network((a || '/' || b)::inet)",
      addresses.map(formatAddress),
      lengths.map(String),
    );
    expect(valid).toEqual(
      addresses.map((address, at) => !isRangeFault(tryRange(`${formatAddress(address)}/${lengths[at]}`))),
    );
  });

  it('have the same order, so that ranges and sets hold the same', async () => {
    const cases = fc.sample(fc.tuple(anyAddress, anyAddress, anyAddress), { numRuns: CASES, seed: SEED });
    const triples = cases.map(
      (texts) => texts.map((text) => formatAddress(parseAddress(text)!)) as [string, string, string],
    );
    const ranges = triples.map(([first, last]) => `${first}-${last}`);
    const answers = await ask<boolean | null>(
      "case when family(split_part(b, '-', 1)::inet) <> family(split_part(b, '-', 2)::inet) or split_part(b, '-', 1)::inet > split_part(b, '-', 2)::inet then null else a::inet between split_part(b, '-', 1)::inet and split_part(b, '-', 2)::inet end",
      triples.map(([, , probe]) => probe),
      ranges,
    );
    const ours = triples.map(([, , probe], at) => {
      const range = tryRange(ranges[at]!);
      if (isRangeFault(range)) return null;
      const address = parseAddress(probe)!;
      const inSet = setContains(addressSet([range]), address);
      const inParts = prefixesOf(range).some((part) => rangeContains(networkOf(part.address, part.length), address));
      expect([inSet, inParts]).toEqual([rangeContains(range, address), rangeContains(range, address)]);
      return inSet;
    });
    expect(answers).toEqual(ours);
    expect(ours.filter((answer) => answer === true).length).toBeGreaterThan(CASES / 40);
  });
});

/** Both sides in the form of RFC 5952, whatever PostgreSQL's own is. */
function normal(text: string): string {
  const [address = '', length] = text.split('/');
  return `${formatAddress(parseAddress(address)!)}/${length}`;
}
