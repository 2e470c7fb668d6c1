import { formatAddress, parseAddress } from '@jade-fence/core/address';
import { type CountryData, compileCountryData, originOf } from '@jade-fence/core/country';
import { type CountryResponse, Reader } from 'mmdb-lib';
import { largeCountryNetworks } from './large/countries.js';
import { writeMmdb } from './large/mmdb-writer.js';
import { Random } from './large/random.js';
import type { Pair } from './measure.js';

const PROBES = 100_000;
const SEED = 1787;

/** The country of an address from its text, against another reader of the same data in the MMDB format. */
export function countryLookupPair(): Pair {
  const networks = largeCountryNetworks(300_000, 250_000);
  const data = compileCountryData(networks);
  const reader = new Reader<CountryResponse>(writeMmdb(networks));
  const texts = probes();
  const answers = (ask: (text: string) => string | undefined) => texts.map((text) => ask(text));
  const ours = (text: string) => ourAnswer(data, text);
  const theirs = (text: string) => reader.get(text)?.country?.iso_code;
  const differs = texts.find((text) => ours(text) !== theirs(text));
  if (differs !== undefined) throw new Error(`${differs} is in ${ours(differs)}, or in ${theirs(differs)}`);
  return {
    name: 'country-lookup',
    unit: 'ms for one address in 550,000 networks',
    figure: () => answers(ours),
    times: PROBES,
    floorName: 'mmdb-lib',
    floor: () => answers(theirs),
  };
}

function ourAnswer(data: CountryData, text: string): string | undefined {
  const address = parseAddress(text);
  const origin = address && originOf({ data, corrections: undefined }, address);
  return origin?.by === 'data' ? origin.country : undefined;
}

/** Half of them IPv4, half IPv6 where the networks are. */
function probes(): string[] {
  const random = new Random(SEED);
  return Array.from({ length: PROBES }, (_, index) =>
    formatAddress(
      index % 2 === 0
        ? { family: 4, value: 0x01000000 + random.below(0xde000000) }
        : { family: 6, words: [0x20014000 + random.below(130_000), random.word(), random.word(), random.word()] },
    ),
  );
}
