import {
  type Address,
  type AddressRange,
  compareAddresses,
  type Intervals,
  packIntervals,
  predecessor,
  rangeSize,
  successor,
} from '../address/index.js';
import type { CountryNetwork } from './networks.js';
import { CountryTable } from './table.js';

/** Country data, compiled: which country an address is in, by the narrowest network that holds it. */
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
  /** What a look-up answers for each of the names, made once for all. */
  readonly origins: Readonly<Record<'data' | 'correction', readonly Origin[]>>;
  readonly networks: readonly CountryNetwork[];
}

/** What is known of an address's country: a code, `private` or `unknown`, and what says so. */
export interface Origin {
  readonly country: string;
  /** A correction of the administrator's, the country data, or what is left where neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
}

export function compileCountryData(networks: readonly CountryNetwork[]): CountryData {
  return { four: flatten(4, networks), six: flatten(6, networks), networks: networks.length };
}

interface Candidate {
  readonly range: AddressRange;
  readonly size: bigint;
  readonly index: number;
}

/** Cuts networks that overlap into disjoint intervals, each owned by the narrowest network that holds it. */
function flatten(family: 4 | 6, all: readonly CountryNetwork[]): CountryIntervals {
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
  const names = [...new Set(networks.map(({ code }) => code))];
  const numbers = new Map(names.map((name, number) => [name, number]));
  const codes = Uint16Array.from(owners, (owner) => numbers.get((networks[owner] as CountryNetwork).code) as number);
  const intervals = packIntervals(family, pieces);
  const by = (by: 'data' | 'correction') => names.map((country): Origin => ({ country, by }));
  const origins = { data: by('data'), correction: by('correction') };
  return {
    intervals,
    owner: Uint32Array.from(owners),
    table: new CountryTable(intervals, codes),
    names,
    origins,
    networks,
  };
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
