import { type Address, formatAddress, parseAddress } from '../address/index.js';
import { tryHost } from '../domain/index.js';
import { tryUser } from '../list/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { normalPath, splitTarget } from '../url/index.js';

/** A value in its normal form, and its sort. */
export type Asked =
  | { readonly kind: 'address'; readonly normal: string; readonly address: Address }
  | { readonly kind: 'host'; readonly normal: string; readonly host: string }
  | { readonly kind: 'url'; readonly normal: string; readonly request: Request }
  | { readonly kind: 'user'; readonly normal: string; readonly user: string };

const URL_FORM = /^(?:([a-z][a-z0-9+.-]{0,31}):\/\/)?(\[[^\]]*\]|[^/?#:@\s]*)(?::(\d{1,5}))?([/?#].*)?$/i;
const DEFAULT_PORTS: Readonly<Record<string, number>> = { http: 80, https: 443 };

/** Tells what somebody asks about: an address, a host, a URL, or else a user; undefined where it can be none of them. */
export function tryAsked(text: string): Asked | undefined {
  const value = text.trim();
  const address = parseAddress(value.replace(/^\[(.*)\]$/, '$1'));
  if (address) return { kind: 'address', normal: formatAddress(address), address };
  if (value.startsWith('user:')) return userOf(value.slice('user:'.length));
  const [, scheme, name = '', port, rest] = URL_FORM.exec(value) ?? [];
  const found = name === '' ? undefined : tryHost(name);
  if (!found || !('host' in found)) return userOf(value);
  const { host } = found;
  if (scheme === undefined && port === undefined && rest === undefined)
    return host.includes('.') ? { kind: 'host', normal: host, host } : userOf(value);
  return urlOf({ scheme: scheme?.toLowerCase(), host, port, rest });
}

function userOf(text: string): Asked | undefined {
  const user = tryUser(text);
  return user === undefined ? undefined : { kind: 'user', normal: user, user };
}

interface Parts {
  readonly scheme: string | undefined;
  readonly host: string;
  readonly port: string | undefined;
  readonly rest: string | undefined;
}

function urlOf({ scheme, host, port: written, rest = '/' }: Parts): Asked {
  const target = splitTarget(rest.startsWith('/') ? rest : `/${rest}`);
  const path = normalPath(target.path);
  const query = target.query ?? '';
  const port = written === undefined ? DEFAULT_PORTS[scheme ?? ''] : Number(written);
  const shown = port === undefined || port === DEFAULT_PORTS[scheme ?? ''] ? '' : `:${port}`;
  const normal = `${scheme === undefined ? '' : `${scheme}://`}${host}${shown}${path}${query === '' ? '' : `?${query}`}`;
  return { kind: 'url', normal, request: makeRequest({ scheme, host, port, path, query }) };
}

/** The value as a request that shows nothing else: as its client, and as its target. */
export interface AskedAs {
  readonly client: Request | undefined;
  readonly host: Request | undefined;
}

/** The requests that a value could be part of: as client, as host, as user. */
export function requestsOf(asked: Asked): AskedAs {
  switch (asked.kind) {
    case 'address':
      return {
        client: makeRequest({ peer: asked.address }),
        host: makeRequest({ destination: asked.address, host: formatAddress(asked.address) }),
      };
    case 'host':
      return { client: undefined, host: makeRequest({ host: asked.host }) };
    case 'url':
      return { client: undefined, host: asked.request };
    case 'user':
      return { client: makeRequest({ user: asked.user }), host: undefined };
  }
}
