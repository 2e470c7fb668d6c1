import { type Address, isSpecialPurpose } from '../address/index.js';
import type { CountryData, CountryIntervals } from './data.js';
import type { CountryNetwork } from './networks.js';

/** What is known of an address's country: a code, `private` or `unknown`, and what says so. */
export interface Origin {
  readonly country: string;
  /** A correction of the administrator's, the country data, or what is left where neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
  /** The network that says so. */
  readonly network: CountryNetwork | undefined;
}

export interface CountrySources {
  /** Undefined where no country data is loaded. */
  readonly data: CountryData | undefined;
  readonly corrections: CountryData | undefined;
}

/**
 * Where an address is: what a correction says; else the data; else `private` in special-purpose space (RFC 6890); else
 * `unknown`. The data comes before `private`, so that it can give a country to networks inside private space. Undefined
 * where no data is loaded and no correction holds the address.
 */
export function originOf({ data, corrections }: CountrySources, address: Address): Origin | undefined {
  const corrected = corrections && found(corrections, address, 'correction');
  if (corrected) return corrected;
  if (data === undefined) return undefined;
  return found(data, address, 'data') ?? (isSpecialPurpose(address) ? PRIVATE : UNKNOWN);
}

const PRIVATE: Origin = { country: 'private', by: 'neither', network: undefined };
const UNKNOWN: Origin = { country: 'unknown', by: 'neither', network: undefined };

function found({ four, six }: CountryData, address: Address, by: Origin['by']): Origin | undefined {
  const side = address.family === 4 ? four : six;
  const at = side.table.find(address);
  return at < 0 ? undefined : new FoundOrigin(side, at, by);
}

/** The network is looked up when it is asked for: most who ask for a country do not. */
class FoundOrigin implements Origin {
  readonly country: string;
  readonly by: Origin['by'];
  private readonly side: CountryIntervals;
  private readonly at: number;

  constructor(side: CountryIntervals, at: number, by: Origin['by']) {
    this.country = side.names[side.table.code(at)] as string;
    this.by = by;
    this.side = side;
    this.at = at;
  }

  get network(): CountryNetwork | undefined {
    return this.side.networks[this.side.owner[this.at] as number];
  }
}
