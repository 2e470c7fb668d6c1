import { type Address, compareAddresses } from '../address/index.js';
import { addressCodes, addressOf, type ColumnTable, textCodes, zip } from '../column/index.js';
import { numberColumn, textColumn } from '../engine/index.js';
import { addressColumn } from '../log/index.js';
import { type Answer, type AnswerSource, inOrder, literalOf, MOST_ADDRESSES } from '../resolution/index.js';

/** A host with an address that a request to it went to, and when that was last so. Plain data. */
export interface HostAddress {
  readonly host: string;
  readonly address: Address;
  /** Milliseconds since 1970; undefined where no request has a time. */
  readonly seen: number | undefined;
}

/** The hosts of a chunk with the addresses that requests to them went to, each pair once. */
export function hostAddressesIn(table: ColumnTable): HostAddress[] {
  const [hosts, destinations] = [textColumn(table, 'host'), addressColumn(table, 'destination')];
  if (hosts === undefined || destinations === undefined) return [];
  const times = numberColumn(table, 'time');
  const { codes, first } = zip(hosts.codes, textCodes(hosts), destinations.codes, addressCodes(destinations));
  const latest = new Float64Array(first.length).fill(Number.NEGATIVE_INFINITY);
  for (let row = 0; row < codes.length; row++) {
    const time = times?.[row] ?? Number.NaN;
    const pair = codes[row] as number;
    if (time > (latest[pair] as number)) latest[pair] = time;
  }
  return [...first].flatMap((row, pair): HostAddress[] => {
    const [host, address] = [hosts.codes[row] as number, addressOf(destinations, destinations.codes[row] as number)];
    const name = hosts.dictionary[host - 1];
    if (host === 0 || name === undefined || address === undefined || literalOf(name)) return [];
    const time = latest[pair] as number;
    return [{ host: name, address, seen: time === Number.NEGATIVE_INFINITY ? undefined : time }];
  });
}

/** Gathers from chunks of a log which addresses hosts had. */
export class AnswersOfLog {
  readonly #from: AnswerSource;
  readonly #now: number;
  readonly #most: number;
  readonly #hosts = new Map<string, { readonly addresses: Address[]; seen: number | undefined }>();
  #beyond = 0;

  /** `now`: when it was seen, where requests have no time. More than `most` hosts are left out, and counted. */
  constructor(from: AnswerSource, now: number, most: number) {
    this.#from = from;
    this.#now = now;
    this.#most = most;
  }

  /** How many pairs of a host and an address found no room. */
  get beyond(): number {
    return this.#beyond;
  }

  add(found: readonly HostAddress[]): void {
    for (const { host, address, seen } of found) {
      const known = this.#hosts.get(host);
      const isNew = known?.addresses.every((each) => compareAddresses(each, address) !== 0) ?? true;
      if (known === undefined ? this.#hosts.size >= this.#most : isNew && known.addresses.length >= MOST_ADDRESSES) {
        this.#beyond++;
        continue;
      }
      if (known === undefined) this.#hosts.set(host, { addresses: [address], seen });
      else {
        if (isNew) known.addresses.push(address);
        if (seen !== undefined) known.seen = Math.max(known.seen ?? seen, seen);
      }
    }
  }

  get answers(): Answer[] {
    return [...this.#hosts].map(([host, { addresses, seen }]) => ({
      host,
      addresses: inOrder(addresses),
      seen: seen ?? this.#now,
      holds: undefined,
      from: this.#from,
    }));
  }
}
