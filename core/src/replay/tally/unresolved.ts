import type { Destinations } from '../../engine/index.js';
import type { UnresolvedHosts } from '../report.js';
import { type Counts, count, mostFirst } from './counts.js';

/** A host, and how many requests went to it. Plain data. */
export type HostRequests = readonly [host: string, requests: number];

/** More hosts than this are counted together, so that memory stays bounded. */
const MOST_HOSTS = 200_000;
const LISTED = 20;

/** The hosts of rows that do not show where they go, and of which no address is known. */
export function unresolvedIn(
  destinations: Destinations,
  rows: Uint32Array,
  isKnown: (code: number) => boolean,
): HostRequests[] {
  const { codes } = destinations;
  const counts = new Uint32Array(destinations.count);
  for (let at = 0; at < rows.length; at++) {
    const code = codes[rows[at] as number] as number;
    counts[code] = (counts[code] as number) + 1;
  }
  const found: HostRequests[] = [];
  for (let code = 0; code < counts.length; code++) {
    if (counts[code] === 0) continue;
    const host = destinations.host(code);
    if (host !== undefined && !isKnown(code)) found.push([host, counts[code] as number]);
  }
  return found;
}

/** Sums up unresolved hosts over the chunks of a replay. */
export class UnresolvedTally {
  readonly #hosts: Counts<string> = new Map();
  #beyond = 0;

  add(hosts: readonly HostRequests[]): void {
    for (const [host, requests] of hosts)
      if (this.#hosts.size < MOST_HOSTS || this.#hosts.has(host)) count(this.#hosts, host, requests);
      else this.#beyond += requests;
  }

  figures(): UnresolvedHosts {
    const sorted = mostFirst(this.#hosts);
    const requests = sorted.reduce((sum, [, each]) => sum + each, this.#beyond);
    const most = sorted.slice(0, LISTED).map(([host, each]) => ({ host, requests: each }));
    return { requests, hosts: sorted.length, beyond: this.#beyond, most };
  }
}
