import type { ColumnTable } from '../column/index.js';
import { allRows, Destinations } from '../engine/index.js';
import { type HostRequests, unresolvedIn } from '../replay/index.js';
import { NO_RESOLUTIONS } from '../resolution/index.js';

/** Gathers the hosts of a log, chunk by chunk, whose requests do not show where they go. */
export class HostsOfLog {
  readonly #requests = new Map<string, number>();
  readonly #most: number;
  #beyond = 0;

  /** Of more hosts than `most` the rest are counted as `beyond`, so that memory stays bounded. */
  constructor(most: number) {
    this.#most = most;
  }

  /** How many hosts found no room, chunk by chunk. */
  get beyond(): number {
    return this.#beyond;
  }

  add(hosts: readonly HostRequests[]): void {
    for (const [host, requests] of hosts) {
      const known = this.#requests.get(host);
      if (known === undefined && this.#requests.size >= this.#most) this.#beyond++;
      else this.#requests.set(host, (known ?? 0) + requests);
    }
  }

  /** Those with most requests first. */
  get hosts(): string[] {
    return [...this.#requests].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).map(([host]) => host);
  }
}

/** The names that requests of a chunk go to without showing the address, each with its requests. */
export function hostsIn(table: ColumnTable): HostRequests[] {
  const destinations = new Destinations(table, NO_RESOLUTIONS);
  // Of no resolutions the address is known of hosts alone that are addresses themselves.
  return unresolvedIn(destinations, allRows(table.rows), (code) => destinations.addresses(code) !== undefined);
}
