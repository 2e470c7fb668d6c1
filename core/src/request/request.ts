import type { Address } from '../address/index.js';

/** One access: who, to what, how and when. What the source did not carry is undefined, and unseen by rules. */
export interface Request {
  /** Milliseconds since 1970. */
  readonly time: number | undefined;
  /** The address at the other end of the socket. */
  readonly peer: Address | undefined;
  readonly method: string | undefined;
  readonly scheme: string | undefined;
  /** In the normal form of `tryHost`. */
  readonly host: string | undefined;
  readonly port: number | undefined;
  /** In the normal form of `normalPath`. */
  readonly path: string | undefined;
  /** Without its question mark. */
  readonly query: string | undefined;
  readonly protocol: string | undefined;
  /** The address that the request goes to. */
  readonly destination: Address | undefined;
  /** Empty where the request is known to have no user. */
  readonly user: string | undefined;
  /** The groups that the user is in. */
  readonly groups: readonly string[] | undefined;
  /** Empty where the request is known to carry none; `referrer` likewise. */
  readonly agent: string | undefined;
  readonly referrer: string | undefined;
  /** The bytes of the request. */
  readonly size: number | undefined;
  /** The status that was answered, and its bytes: what the log recorded, never read by rules. */
  readonly status: number | undefined;
  readonly bytes: number | undefined;
  /**
   * The values of other headers, by their names in lower case; none: the header is known to be absent; undefined: it is
   * not seen, although all others may be.
   */
  readonly headers: ReadonlyMap<string, readonly string[] | undefined>;
  /** Whether `headers` holds all that came, so that one that is not in it is known to be absent. */
  readonly allHeaders: boolean;
  /** Rules whose challenge, confirmation or passcode the client has met, each as `policy/rule`. */
  readonly met: readonly string[];
}

const NO_HEADERS: Request['headers'] = new Map();
const NONE: readonly string[] = [];

/** A request with all its fields in place; those not given are unseen. */
export function makeRequest(
  given: { readonly [K in keyof Request]?: Request[K] | undefined },
  time: number | undefined = given.time,
): Request {
  return {
    time,
    peer: given.peer,
    method: given.method,
    scheme: given.scheme,
    host: given.host,
    port: given.port,
    path: given.path,
    query: given.query,
    protocol: given.protocol,
    destination: given.destination,
    user: given.user,
    groups: given.groups,
    agent: given.agent,
    referrer: given.referrer,
    size: given.size,
    status: given.status,
    bytes: given.bytes,
    headers: given.headers ?? NO_HEADERS,
    allHeaders: given.allHeaders ?? false,
    met: given.met ?? NONE,
  };
}
