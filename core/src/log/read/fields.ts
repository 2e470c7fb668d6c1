import { type Address, parseAddress, withoutZone } from '../../address/index.js';
import { tryHost } from '../../domain/index.js';
import { BoundedMap } from '../../memo/index.js';
import type { Request } from '../../request/index.js';
import { normalPath, parseUrl, splitTarget } from '../../url/index.js';

/** The parts of a request that a target or an authority has. */
export type TargetParts = Partial<Pick<Request, 'scheme' | 'host' | 'port' | 'path' | 'query'>>;

/**
 * Remembers what texts were read as, since logs have the same few thousand again and again. Empties itself when full.
 * Keys and values are copies: V8 keeps a whole line in memory as long as a slice of it is there.
 */
export class Memo<T> {
  static readonly #MOST = 100_000;
  static readonly #LONGEST = 500;
  readonly #known = new BoundedMap<string, T>(Memo.#MOST);
  readonly #read: (text: string) => T;

  constructor(read: (text: string) => T) {
    this.#read = read;
  }

  get(text: string): T {
    if (text.length > Memo.#LONGEST) return this.#read(text);
    const known = this.#known.get(text);
    if (known !== undefined) return known;
    // Joining and cutting makes a text of its own.
    const own = ` ${text}`.slice(1);
    const value = this.#read(own);
    this.#known.set(own, value);
    return value;
  }
}

export type AddressText = Address | 'bad';

/** An address, in brackets or not, with a port or not; the zone of an IPv6 address is taken off. */
export const readPeer = (text: string): AddressText =>
  parseAddress(withoutZone(text.replace(/^\[(.*)\](?::\d{1,5})?$/, '$1').replace(/^([\d.]+):\d{1,5}$/, '$1'))) ?? 'bad';

/** A host with or without a port, as in the Host header, or a port alone (`:8081`); `bad` where it is neither. */
export function readAuthority(text: string): TargetParts | 'bad' {
  const found = /^(\[[^\]]*\]|[^:]*)(?::(\d{1,5}))?$/.exec(text);
  if (!found) return 'bad';
  const [, hostText = '', portText] = found;
  const port = portText === undefined ? undefined : Number(portText);
  if (port !== undefined && port > 65535) return 'bad';
  if (hostText === '' && port !== undefined) return { port };
  const result = tryHost(hostText);
  if (!('host' in result)) return 'bad';
  return port === undefined ? { host: result.host } : { host: result.host, port };
}

/** Path and query of a request target in origin form, or of one in absolute form with its scheme and host (RFC 9112, 3.2). */
export function readTarget(text: string): TargetParts | 'bad' {
  return /^[a-z][a-z0-9+.-]*:[/\\]/i.test(text) ? readUrl(text) : originForm(text);
}

/** Characters that the WHATWG URL parser drops inside a URL, and around it. */
const DROPPED = /[\t\n\r]/g;
const AROUND = /^[\x00-\x20]+|[\x00-\x20]+$/g;
/** The part behind the authority: a backslash ends it too, in the schemes of the web. */
const BEHIND = /^[a-z][a-z0-9+.-]*:[/\\]*[^/\\?#]*(.*)$/is;
const OF_THE_WEB = ['http:', 'https:', 'ws:', 'wss:', 'ftp:'];

/** The parts of an absolute URL, as the WHATWG URL parser reads it; `bad` where it has no host. */
export function readUrl(text: string): TargetParts | 'bad' {
  const trimmed = text.replace(AROUND, '').replace(DROPPED, '');
  const url = parseUrl(trimmed);
  const known = url && tryHost(url.hostname);
  if (url === undefined || !known || !('host' in known)) return 'bad';
  // The path as it was sent, since a policy may merge its slashes before dot segments are removed.
  const behind = OF_THE_WEB.includes(url.protocol) ? (BEHIND.exec(trimmed)?.[1] ?? '') : url.pathname + url.search;
  const parts = { scheme: url.protocol.slice(0, -1), host: known.host, ...originForm(behind || '/') };
  return url.port === '' ? parts : { ...parts, port: Number(url.port) };
}

function originForm(text: string): TargetParts {
  const { path, query } = splitTarget(text);
  const parts = { path: normalPath(path) };
  return query === undefined ? parts : { ...parts, query };
}
