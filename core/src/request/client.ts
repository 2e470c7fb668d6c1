import { type Address, type AddressSet, compareAddresses, setContains } from '../address/index.js';
import { hopsOf } from './forwarding.js';
import type { Request } from './request.js';

/** The client of a request, and how it was found. */
export interface ClientFinding {
  /** Undefined where the request does not show it. */
  readonly address: Address | undefined;
  /** `peer`, or the name of the header that it was taken from. */
  readonly source: string;
  readonly how: ClientHow;
}

/**
 * - `peer`: the policy takes the socket's address, or the request is known to carry no header that names another.
 * - `header`: the first hop that is not trusted, from the right.
 * - `untrusted-peer`: there was a header, and the peer is no trusted proxy, so it was ignored.
 * - `unreadable-hop`: a trusted hop names nothing that can be read, so the client is unseen.
 * - `header-not-logged`: the peer is a trusted proxy, and the log does not say which headers it sent.
 * - `headers-disagree`: `Forwarded` and `X-Forwarded-For` name different clients, so that one may be forged.
 * - `no-peer`: the request shows no peer.
 */
export type ClientHow =
  | 'peer'
  | 'header'
  | 'untrusted-peer'
  | 'unreadable-hop'
  | 'header-not-logged'
  | 'headers-disagree'
  | 'no-peer';

/** Which headers may name the client, and the addresses of the proxies that are trusted to set them. */
export interface ClientTrust {
  readonly headers: readonly string[];
  readonly trusted: AddressSet;
}

/** Finds the client of a request: the peer, or the first hop from the right that no trusted proxy vouches for. */
export function findClient(request: Request, trust: ClientTrust): ClientFinding {
  const { peer, headers } = request;
  if (peer === undefined) return { address: undefined, source: 'peer', how: 'no-peer' };
  const logged = trust.headers.filter((header) => headers.get(header) !== undefined);
  const present = logged.filter((header) => (headers.get(header) as readonly string[]).length > 0);
  if (trust.headers.length === 0) return { address: peer, source: 'peer', how: 'peer' };
  if (!setContains(trust.trusted, peer))
    return { address: peer, source: 'peer', how: present.length === 0 ? 'peer' : 'untrusted-peer' };
  if (present.length === 0) {
    if (logged.length > 0 || (request.allHeaders && trust.headers.some((header) => !headers.has(header))))
      return { address: peer, source: 'peer', how: 'peer' };
    return { address: undefined, source: trust.headers.join(' or '), how: 'header-not-logged' };
  }
  const found = present.map((header) => walk(header, headers.get(header) as readonly string[], trust.trusted));
  const first = found[0] as ClientFinding;
  if (found.every((each) => isSame(each.address, first.address))) return first;
  return { address: undefined, source: present.join(' and '), how: 'headers-disagree' };
}

function isSame(a: Address | undefined, b: Address | undefined): boolean {
  return a === undefined || b === undefined ? a === b : compareAddresses(a, b) === 0;
}

/** Walks the header from the right, past every trusted hop. Where all are trusted, the client is the leftmost. */
function walk(header: string, values: readonly string[], trusted: AddressSet): ClientFinding {
  let client: Address | undefined;
  for (const hop of hopsOf(header, values.join(','))) {
    if (hop === undefined) return { address: undefined, source: header, how: 'unreadable-hop' };
    client = hop;
    if (!setContains(trusted, client)) break;
  }
  return { address: client, source: header, how: client === undefined ? 'unreadable-hop' : 'header' };
}
