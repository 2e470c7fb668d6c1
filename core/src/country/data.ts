import {
  type Address,
  type AddressRange,
  compareAddresses,
  type Intervals,
  intervalsOf,
  packIntervals,
  predecessor,
  rangeSize,
  successor,
} from '../address/index.js';
import type { CountryNetwork } from './networks.js';
import { type PackedNetworks, packNetworks } from './packed.js';
import { type CountryTable, countryTable } from './table.js';

/** Country data, compiled: which country an address is in, by the narrowest network that holds it. Plain data. */
export interface CountryData {
  readonly four: CountryIntervals;
  readonly six: CountryIntervals;
  /** How many networks the data was made from. */
  readonly networks: number;
}

export interface CountryIntervals {
  readonly intervals: Intervals;
  /** For each interval, the index of its network in `networks`. */
  readonly owner: Uint32Array;
  /** The same for look-ups, with the index of each interval's code in `names`. */
  readonly table: CountryTable;
  readonly names: readonly string[];
  /** The answer of a look-up for each of the names, made once. */
  readonly origins: Readonly<Record<'data' | 'correction', readonly Origin[]>>;
  readonly networks: PackedNetworks;
}

/** Country data cut into disjoint intervals, as plain data, which goes from thread to thread. */
export interface FlatCountryData {
  readonly sides: readonly FlatSide[];
  readonly networks: number;
}

interface FlatSide {
  /** The words of disjoint intervals, in order, and of each the index of its network. */
  readonly starts: Uint32Array;
  readonly ends: Uint32Array;
  readonly owner: Uint32Array;
  readonly networks: PackedNetworks;
}

/** The country of an address: a code, `private` or `unknown`, and its source. */
export interface Origin {
  readonly country: string;
  /** A correction of the administrator's, the country data, or what is left where neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
}

/**
 * Compiles networks for look-ups. Of networks inside each other the narrowest counts.
 */
export function compileCountryData(networks: readonly CountryNetwork[]): CountryData {
  return countryDataOf(flatCountryData(networks));
}

/** The part of compiling that takes long, for a thread of its own. */
export function flatCountryData(networks: readonly CountryNetwork[]): FlatCountryData {
  return { sides: [flatten(4, networks), flatten(6, networks)], networks: networks.length };
}

/** The rest of it. */
export function countryDataOf({ sides, networks }: FlatCountryData): CountryData {
  const [four, six] = sides.map(laidOut) as [CountryIntervals, CountryIntervals];
  return { four, six, networks };
}

function laidOut({ starts, ends, owner, networks }: FlatSide): CountryIntervals {
  const { names, codes, family } = networks;
  const intervals = intervalsOf(family, starts, ends);
  const by = (by: 'data' | 'correction') => names.map((country): Origin => ({ country, by }));
  const table = countryTable(
    intervals,
    Uint16Array.from(owner, (index) => codes[index] as number),
  );
  return { intervals, owner, table, names, origins: { data: by('data'), correction: by('correction') }, networks };
}

interface Candidate {
  readonly range: AddressRange;
  readonly size: bigint;
  readonly index: number;
}

/** Cuts networks that overlap into disjoint intervals, each owned by the narrowest network that holds it. */
function flatten(family: 4 | 6, all: readonly CountryNetwork[]): FlatSide {
  const networks = all
    .filter((network) => network.range.first.family === family)
    .sort((a, b) => compareAddresses(a.range.first, b.range.first));
  const pieces: { first: Address; last: Address }[] = [];
  const owners: number[] = [];
  const active = new Active();
  let at: Address | undefined = networks[0]?.range.first;
  let next = 0;
  while (at !== undefined) {
    for (; next < networks.length && compareAddresses(networks[next]!.range.first, at) <= 0; next++)
      active.add(networks[next]!.range, next);
    const owner = active.narrowestAt(at);
    const upcoming: Address | undefined = networks[next]?.range.first;
    if (owner === undefined) {
      at = upcoming;
      continue;
    }
    const last = earlier(owner.range.last, upcoming && predecessor(upcoming));
    const open = pieces.at(-1);
    if (open && owners.at(-1) === owner.index) open.last = last;
    else {
      pieces.push({ first: at, last });
      owners.push(owner.index);
    }
    at = successor(last);
  }
  const { starts, ends } = packIntervals(family, pieces);
  return { starts, ends, owner: Uint32Array.from(owners), networks: packNetworks(family, networks) };
}

const earlier = (a: Address, b: Address | undefined): Address => (b && compareAddresses(b, a) < 0 ? b : a);

/** The networks that a sweep has entered, the narrowest last. Those that it has left go when they reach the end. */
class Active {
  readonly #widestFirst: Candidate[] = [];

  add(range: AddressRange, index: number): void {
    const size = rangeSize(range);
    let at = this.#widestFirst.length;
    while (at > 0 && this.#widestFirst[at - 1]!.size < size) at--;
    this.#widestFirst.splice(at, 0, { range, size, index });
  }

  narrowestAt(address: Address): Candidate | undefined {
    let top = this.#widestFirst.at(-1);
    while (top && compareAddresses(top.range.last, address) < 0) {
      this.#widestFirst.pop();
      top = this.#widestFirst.at(-1);
    }
    return top;
  }
}
