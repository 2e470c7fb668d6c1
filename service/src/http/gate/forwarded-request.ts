import type { IncomingHttpHeaders } from 'node:http';
import { parseAddress } from '@jade-fence/core/address';
import { tryHost } from '@jade-fence/core/domain';
import { lineFaultText, readRequest } from '@jade-fence/core/log';
import type { Request } from '@jade-fence/core/request';
import { Refusal, refusal } from '../../fault/refusal.js';

/**
 * Headers of the call that are not the original request's, or that `X-Forwarded-…` replaces: of these it is not known
 * what the original had.
 */
const OF_THE_CALL = [
  ...['connection', 'content-length', 'expect', 'keep-alive', 'proxy-connection', 'te', 'trailer', 'transfer-encoding'],
  ...['upgrade', 'authorization', 'x-forwarded-method', 'x-forwarded-proto', 'x-forwarded-host', 'x-forwarded-uri'],
  ...['x-forwarded-authorization', 'x-real-ip', 'via'],
];

/**
 * The original request, from the headers of a gateway: `X-Forwarded-Method`, `-Proto`, `-Host`, `-Uri`, and `-For`,
 * whose last address is the one that the gateway saw; all other headers are those of the request itself. A missing
 * header leaves its field unseen. Throws a refusal when client, host or target are missing or cannot be read: no policy
 * would cover such a request, so it would be let through.
 */
export function forwardedRequest(given: IncomingHttpHeaders): Request {
  const headers = decoded(given);
  const shown = (name: string) => [headers[`x-forwarded-${name}`]].flat()[0];
  const [uri, host] = [shown('uri'), shown('host')];
  const hops = hopsOf(headers['x-forwarded-for']);
  const peer = parseAddress(bare(hops.at(-1) ?? ''));
  if (uri === undefined || uri === '' || host === undefined || peer === undefined) throw refusal('no-original');
  const read = readRequest({
    method: shown('method'),
    scheme: shown('proto'),
    host,
    // Absolute form names its host itself; it has to be the one in `X-Forwarded-Host`.
    path: uri.startsWith('/') || /^[a-z][a-z0-9+.-]*:[/\\]/i.test(uri) ? uri : `/${uri}`,
    headers: {},
  });
  if (!('request' in read) || read.faults?.length || !isSameHost(host, read.request.host))
    throw refusal('bad-original');
  const own = ownHeaders(headers, hops.slice(0, -1));
  const one = (name: string) => own.get(name)?.join(', ');
  const [agent, referrer] = [one('user-agent') ?? '', one('referer') ?? ''];
  own.delete('user-agent');
  own.delete('referer');
  // With a path it is known whether there is a query.
  return { ...read.request, query: read.request.query ?? '', peer, agent, referrer, headers: own };
}

const utf8 = new TextDecoder('utf-8', { ignoreBOM: true, fatal: true });
const single = new TextDecoder('windows-1252');

/** The headers with their bytes read as those of logs are: Node gives each byte as a character. */
function decoded(headers: IncomingHttpHeaders): IncomingHttpHeaders {
  const textOf = (value: string): string => {
    if (/^[\0-\x7f]*$/.test(value)) return value;
    const bytes = Buffer.from(value, 'latin1');
    try {
      return utf8.decode(bytes);
    } catch {
      return single.decode(bytes);
    }
  };
  return Object.fromEntries(
    Object.entries(headers).map(([name, value]) => [
      name,
      typeof value === 'string' ? textOf(value) : value?.map(textOf),
    ]),
  );
}

/** All headers of the original; undefined for those of which nothing is known. */
function ownHeaders(headers: IncomingHttpHeaders, before: readonly string[]): Map<string, readonly string[]> {
  const own = new Map<string, readonly string[] | undefined>();
  for (const [name, value] of Object.entries(headers))
    if (value !== undefined && !name.startsWith('x-jade-fence-')) own.set(name, [value].flat());
  for (const name of OF_THE_CALL) own.set(name, undefined);
  const authorization = headers['x-forwarded-authorization'];
  if (authorization !== undefined) own.set('authorization', [authorization].flat());
  own.set('host', [headers['x-forwarded-host'] ?? []].flat());
  own.set('x-forwarded-for', before.length > 0 ? [before.join(', ')] : []);
  return own as Map<string, readonly string[]>;
}

const hopsOf = (header: string | string[] | undefined): string[] =>
  [header ?? []]
    .flat()
    .join(',')
    .split(',')
    .map((hop) => hop.trim())
    .filter((hop) => hop !== '');

const bare = (hop: string): string => hop.replace(/^\[(.*)\](?::\d+)?$/, '$1').replace(/^([\d.]+):\d+$/, '$1');

function isSameHost(shown: string, read: string | undefined): boolean {
  const host = tryHost(shown.replace(/:\d{1,5}$/, ''));
  return 'host' in host && host.host === read;
}

/** The fields of a JSON body as a request; what cannot be read is refused, since it would be unseen to the rules. */
export function requestOf(fields: Record<string, unknown>, at?: number): Request {
  const read = readRequest(fields, undefined, at);
  const fault = 'fault' in read ? read.fault : read.faults?.[0];
  if (fault) throw new Refusal(fault.code, `${lineFaultText(fault)}.`);
  return (read as { readonly request: Request }).request;
}
