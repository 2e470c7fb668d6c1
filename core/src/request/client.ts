import { type Address, type AddressSet, compareAddresses, setContains } from '../address/index.js';
import { readHops } from './forwarding.js';
import type { Request } from './request.js';

/** The client of a request, and how it was told. */
export interface ClientFinding {
  /** Undefined where the request does not tell it. */
  readonly address: Address | undefined;
  /** `peer`, or the name of the header that it was taken from. */
  readonly source: string;
  readonly how: ClientHow;
}

/**
 * - `peer`: the policy takes the socket's address, or the request came with no header.
 * - `header`: the first hop that is not trusted, from the right.
 * - `untrusted-peer`: there was a header, and the peer is no trusted proxy, so it was ignored.
 * - `malformed-hop`: the walk ended at a hop that could not be read.
 * - `headers-disagree`: `Forwarded` and `X-Forwarded-For` tell different clients, so that one may be forged.
 * - `no-peer`: the request tells no peer.
 */
export type ClientHow = 'peer' | 'header' | 'untrusted-peer' | 'malformed-hop' | 'headers-disagree' | 'no-peer';

/** Which headers may tell the client, and the addresses of the proxies that are trusted to set them. */
export interface ClientTrust {
  readonly headers: readonly string[];
  readonly trusted: AddressSet;
}

/** Finds the client of a request: the peer, or the first hop from the right that no trusted proxy vouches for. */
export function findClient(request: Request, trust: ClientTrust): ClientFinding {
  const { peer } = request;
  if (peer === undefined) return { address: undefined, source: 'peer', how: 'no-peer' };
  if (request.headers.size === 0) return { address: peer, source: 'peer', how: 'peer' };
  const present = trust.headers.filter((header) => request.headers.has(header));
  if (present.length === 0) return { address: peer, source: 'peer', how: 'peer' };
  if (!setContains(trust.trusted, peer)) return { address: peer, source: 'peer', how: 'untrusted-peer' };
  const found = present.map((header) => walk(peer, header, request.headers.get(header) as string, trust.trusted));
  const first = found[0] as ClientFinding;
  const agree = found.every((each) => compareAddresses(each.address as Address, first.address as Address) === 0);
  return agree ? first : { address: undefined, source: present.join(' and '), how: 'headers-disagree' };
}

function walk(peer: Address, header: string, value: string, trusted: AddressSet): ClientFinding {
  let client = peer;
  const hops = readHops(header, value);
  for (let at = hops.length - 1; at >= 0 && setContains(trusted, client); at--) {
    const hop = hops[at];
    if (hop === undefined) return { address: client, source: header, how: 'malformed-hop' };
    client = hop;
  }
  return { address: client, source: header, how: 'header' };
}
