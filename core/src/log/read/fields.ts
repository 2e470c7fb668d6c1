import { type Address, parseAddress } from '../../address/index.js';
import { tryHost } from '../../domain/index.js';
import type { Request } from '../../request/index.js';
import { normalPath, splitTarget } from '../../url/index.js';

/** The parts of a request that a target or an authority tells. */
export type TargetParts = Partial<Pick<Request, 'scheme' | 'host' | 'port' | 'path' | 'query'>>;

/** Remembers what texts were read as, for logs say the same few thousand again and again. Empties itself when full. */
export class Memo<T> {
  readonly #known = new Map<string, T>();
  readonly #read: (text: string) => T;
  static readonly #MOST = 100_000;
  static readonly #LONGEST = 500;

  constructor(read: (text: string) => T) {
    this.#read = read;
  }

  get(text: string): T {
    if (text.length > Memo.#LONGEST) return this.#read(text);
    let value = this.#known.get(text);
    if (value === undefined) {
      if (this.#known.size >= Memo.#MOST) this.#known.clear();
      value = this.#read(text);
      this.#known.set(text, value);
    }
    return value;
  }
}

export type AddressText = Address | 'bad';

export const readPeer = (text: string): AddressText => parseAddress(text.replace(/^\[(.*)\]$/, '$1')) ?? 'bad';

/** A host with or without a port, as in the Host header; `bad` where it is none. */
export function readAuthority(text: string): TargetParts | 'bad' {
  const found = /^(\[[^\]]*\]|[^:]*)(?::(\d{1,5}))?$/.exec(text);
  if (!found) return 'bad';
  const result = tryHost(found[1] as string);
  const port = found[2] === undefined ? undefined : Number(found[2]);
  if (!('host' in result) || (port !== undefined && port > 65535)) return 'bad';
  return port === undefined ? { host: result.host } : { host: result.host, port };
}

/** Path and query of a target in origin form, or of an absolute URL with its scheme and host. */
export function readTarget(text: string): TargetParts | 'bad' {
  const absolute = /^([a-z][a-z0-9+.-]*):\/\/([^/?#]*)(.*)$/i.exec(text);
  if (!absolute) return originForm(text);
  const authority = readAuthority((absolute[2] as string).replace(/^.*@/, ''));
  if (authority === 'bad') return 'bad';
  return { scheme: (absolute[1] as string).toLowerCase(), ...authority, ...originForm(absolute[3] || '/') };
}

function originForm(text: string): TargetParts {
  const { path, query } = splitTarget(text);
  const parts = { path: normalPath(path) };
  return query === undefined ? parts : { ...parts, query };
}
