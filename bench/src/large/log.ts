import { type Address, formatAddress } from '@jade-fence/core/address';
import type { ColumnTable } from '@jade-fence/core/column';
import { ChunkBuilder } from '@jade-fence/core/log';
import { makeRequest, type Request } from '@jade-fence/core/request';
import { Random } from './random.js';

const SEED = 1804;
const CLIENTS = 200_000;
const START = Date.UTC(2026, 10, 9);
const STEP = 600;

export const HOSTS = Array.from({ length: 200 }, (_, index) => `site-${index}.fennelhill.example`);
export const SECTIONS = Array.from({ length: 40 }, (_, index) => `/section-${index}`);
export const AGENTS = Array.from(
  { length: 300 },
  (_, index) =>
    `Thistle/${index % 40}.${index % 7} (Garden; device ${index}; rv:${index % 90}.0) Meadow/20${index % 30}0101 Burdock/${index % 12}.${index % 5}.${index % 9}`,
);
const ORDERS = ['name', 'newest', 'price'];
const METHODS = ['GET', 'GET', 'GET', 'GET', 'GET', 'GET', 'HEAD', 'POST', 'POST', 'DELETE'];

/** A made-up log: few clients, hosts and pages come often, and one request in ten is a tunnel that shows no path. */
export function* largeLog(requests: number): Generator<Request> {
  const random = new Random(SEED);
  const clients = Array.from({ length: CLIENTS }, () => address(random));
  const paths = Array.from({ length: 20_000 }, () => path(random));
  for (let index = 0; index < requests; index++) {
    const tunnel = random.chance(0.1);
    yield makeRequest({
      time: START + index * STEP,
      peer: clients[random.skewed(CLIENTS)],
      method: tunnel ? 'CONNECT' : random.choose(METHODS),
      scheme: tunnel ? undefined : 'https',
      host: HOSTS[random.skewed(HOSTS.length)],
      port: tunnel ? 443 : undefined,
      path: tunnel ? undefined : paths[random.skewed(paths.length)],
      protocol: random.chance(0.7) ? 'HTTP/2' : 'HTTP/1.1',
      query: tunnel || random.chance(0.7) ? undefined : `page=${random.below(50)}&order=${random.choose(ORDERS)}`,
      referrer:
        tunnel || random.chance(0.4)
          ? undefined
          : `https://${HOSTS[random.skewed(HOSTS.length)]}${random.choose(SECTIONS)}/`,
      agent: tunnel ? undefined : AGENTS[random.skewed(AGENTS.length)],
      status: random.choose([200, 200, 200, 304, 403, 404]),
      bytes: random.below(50_000),
    });
  }
}

function address(random: Random): Address {
  if (random.chance(0.05))
    return { family: 6, words: [0x20014000 + random.below(10_000), random.word(), 0, random.word()] };
  return { family: 4, value: 0x01000000 + random.below(0xde000000) };
}

function path(random: Random): string {
  if (random.chance(0.01)) return '/robots.txt';
  const tail = random.chance(0.02) ? `export-${random.below(9)}` : `item-${random.below(999)}`;
  return `${random.choose(SECTIONS)}/${tail}`;
}

/** The line of JSON Lines that a request is read from. */
export function lineOf({ time, peer, headers, met, allHeaders, ...rest }: Request): string {
  return JSON.stringify({ time: new Date(time as number).toISOString(), peer: peer && formatAddress(peer), ...rest });
}

/** The requests in chunks as an import makes them. */
export function chunksOf(requests: Iterable<Request>): ColumnTable[] {
  const chunks: ColumnTable[] = [];
  let builder = new ChunkBuilder();
  let line = 0;
  for (const request of requests) {
    builder.add(request, ++line);
    if (!builder.full) continue;
    chunks.push(builder.build());
    builder = new ChunkBuilder();
  }
  if (builder.rows > 0) chunks.push(builder.build());
  return chunks;
}
