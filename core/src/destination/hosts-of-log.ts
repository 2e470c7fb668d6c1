import type { ColumnTable } from '../column/index.js';
import { allRows, Destinations } from '../engine/index.js';
import { type HostRequests, unresolvedIn } from '../replay/index.js';
import { NO_RESOLUTIONS } from '../resolution/index.js';

/** So many times the hosts that are looked up are counted, so that those with most requests are among them. */
const COUNTED_TIMES = 10;

/** Gathers the hosts of a log, chunk by chunk, whose requests do not show where they go. */
export class HostsOfLog {
  readonly #requests = new Map<string, number>();
  readonly #most: number;
  readonly #isWanted: (host: string) => boolean;
  #noRoom = 0;

  /** Hosts that are not wanted are left out, so that they take no room. Of more hosts than `most` the rest are `beyond`. */
  constructor(most: number, isWanted: (host: string) => boolean) {
    this.#most = most;
    this.#isWanted = isWanted;
  }

  /** How many hosts are not among `hosts`; those that were too many to be counted add up chunk by chunk. */
  get beyond(): number {
    return this.#noRoom + Math.max(0, this.#requests.size - this.#most);
  }

  add(hosts: readonly HostRequests[]): void {
    for (const [host, requests] of hosts) {
      const known = this.#requests.get(host);
      if (known === undefined && !this.#isWanted(host)) continue;
      if (known === undefined && this.#requests.size >= this.#most * COUNTED_TIMES) this.#noRoom++;
      else this.#requests.set(host, (known ?? 0) + requests);
    }
  }

  /** Those with most requests first. */
  get hosts(): string[] {
    return [...this.#requests]
      .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
      .slice(0, this.#most)
      .map(([host]) => host);
  }
}

/** The names that requests of a chunk go to without showing the address, each with its requests. */
export function hostsIn(table: ColumnTable): HostRequests[] {
  const destinations = new Destinations(table, NO_RESOLUTIONS);
  // Of no resolutions the address is known of hosts alone that are addresses themselves.
  return unresolvedIn(destinations, allRows(table.rows), (code) => destinations.addresses(code) !== undefined);
}
