import {
  type Address,
  type AddressRange,
  compareAddresses,
  formatAddress,
  formatRange,
  rangeContains,
} from '../address/index.js';
import { type ColumnTable } from '../column/index.js';
import { type CountrySources, networkTelling, originOf } from '../country/index.js';
import { Destinations, textColumn } from '../engine/index.js';
import { addressesFor, literalOf, type Resolutions } from '../resolution/index.js';

/** How much a rule about a host can be about: one of its addresses, the network of that, the host itself, its country. */
export const REMEDY_KINDS = ['address', 'network', 'host', 'country'] as const;
export type RemedyKind = (typeof REMEDY_KINDS)[number];

/** A condition that stops a host, the narrowest kinds first. Plain data. */
export interface Remedy {
  readonly kind: RemedyKind;
  readonly value: string;
  /** As a rule writes it. */
  readonly condition: string;
}

/** How many requests of a log match a remedy, and how many of them go to other hosts. */
export interface CountedRemedy extends Remedy {
  readonly requests: number;
  readonly others: number;
}

type Held = (addresses: readonly Address[]) => boolean;

interface Tried {
  readonly remedy: Remedy;
  /** Whether destinations match it; undefined: those of the host alone. */
  readonly holds: Held | undefined;
}

/** More addresses of a host than this are not offered one by one. */
const MOST_OFFERED = 8;

/** Counts what each remedy for a host would stop, chunk by chunk of a log. */
export class RemedyCounts {
  readonly #host: string;
  readonly #resolutions: Resolutions;
  readonly #tried: readonly Tried[];
  readonly #requests: number[];
  readonly #others: number[];

  /** `host` is in normal form. */
  constructor(host: string, resolutions: Resolutions, country: CountrySources) {
    this.#host = host;
    this.#resolutions = resolutions;
    this.#tried = triedFor(host, resolutions, country);
    this.#requests = this.#tried.map(() => 0);
    this.#others = this.#tried.map(() => 0);
  }

  /** Counts a chunk: where a request does not show its destination, the addresses of its host are taken. */
  add(table: ColumnTable): void {
    const destinations = new Destinations(table, this.#resolutions);
    const hosts = textColumn(table, 'host');
    const ownHost = hosts === undefined ? -1 : hosts.dictionary.indexOf(this.#host) + 1 || -1;
    const { codes } = destinations;
    const masks = new Int32Array(destinations.count).fill(-1);
    for (let row = 0; row < table.rows; row++) {
      const code = codes[row] as number;
      if (masks[code] === -1) masks[code] = this.#maskOf(destinations.addresses(code));
      const isOwn = (hosts?.codes[row] ?? 0) === ownHost;
      const mask = (masks[code] as number) | (isOwn ? this.#hostMask : 0);
      if (mask === 0) continue;
      for (let at = 0; at < this.#tried.length; at++) {
        if ((mask & (1 << at)) === 0) continue;
        this.#requests[at] = (this.#requests[at] as number) + 1;
        if (!isOwn) this.#others[at] = (this.#others[at] as number) + 1;
      }
    }
  }

  get remedies(): CountedRemedy[] {
    return this.#tried.map(({ remedy }, at) => ({
      ...remedy,
      requests: this.#requests[at] as number,
      others: this.#others[at] as number,
    }));
  }

  get #hostMask(): number {
    const at = this.#tried.findIndex(({ holds }) => holds === undefined);
    return at < 0 ? 0 : 1 << at;
  }

  #maskOf(addresses: readonly Address[] | undefined): number {
    if (addresses === undefined) return 0;
    return this.#tried.reduce((mask, { holds }, at) => (holds?.(addresses) ? mask | (1 << at) : mask), 0);
  }
}

/** What can be done about a host, without counts. */
export const remediesFor = (host: string, resolutions: Resolutions, country: CountrySources): Remedy[] =>
  triedFor(host, resolutions, country).map(({ remedy }) => remedy);

function triedFor(host: string, resolutions: Resolutions, country: CountrySources): Tried[] {
  const addresses = (addressesFor(resolutions, host) ?? []).slice(0, MOST_OFFERED);
  const networks = new Map<string, AddressRange>();
  const countries = new Set<string>();
  for (const address of addresses) {
    const network = networkTelling(country, address)?.range;
    if (network && compareAddresses(network.first, network.last) !== 0) networks.set(formatRange(network), network);
    const origin = originOf(country, address);
    if (origin) countries.add(origin.country);
  }
  const inCountry =
    (code: string): Held =>
    (all) =>
      all.some((each) => originOf(country, each)?.country === code);
  return [
    ...addresses.map((address) => {
      const value = formatAddress(address);
      const holds: Held = (all) => all.some((each) => compareAddresses(each, address) === 0);
      return { remedy: { kind: 'address' as const, value, condition: `destination: ["${value}"]` }, holds };
    }),
    ...[...networks].map(([value, range]) => {
      const holds: Held = (all) => all.some((each) => rangeContains(range, each));
      return { remedy: { kind: 'network' as const, value, condition: `destination: ["${value}"]` }, holds };
    }),
    ...(literalOf(host)
      ? []
      : [{ remedy: { kind: 'host' as const, value: host, condition: `host: [${host}]` }, holds: undefined }]),
    ...[...countries].sort().map((value) => ({
      remedy: { kind: 'country' as const, value, condition: `destination-country: [${value}]` },
      holds: inCountry(value),
    })),
  ];
}
