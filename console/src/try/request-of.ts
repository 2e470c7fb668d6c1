import type { RequestBody } from '@jade-fence/contract';

/** What is typed of a request, each part as text; an empty one is not part of it. */
export interface Typed {
  readonly client: string;
  readonly url: string;
  readonly method: string;
  readonly agent: string;
  readonly user: string;
  readonly groups: string;
  readonly time: string;
  readonly destination: string;
  /** The addresses of X-Forwarded-For, parted by commas. */
  readonly forwarded: string;
  /** Headers as they are sent, a line each. */
  readonly headers: string;
}

/** The fields of the request; a tunnel shows its host and port, and no path. */
export function requestOf({
  client,
  url,
  method,
  agent,
  user,
  groups,
  time,
  destination,
  ...more
}: Typed): RequestBody {
  const tunnel = /^([^/\s]+):(\d{1,5})$/.exec(url);
  const target = tunnel
    ? { method: 'CONNECT', host: tunnel[1] as string, port: Number(tunnel[2]) }
    : { method, url: /^[a-z]+:\/\//i.test(url) ? url : `https://${url}` };
  const headers = headersOf(more.headers);
  const forwarded = more.forwarded.trim();
  const names = groups.split(',').map((each) => each.trim());
  return {
    ...target,
    ...(client && { peer: client }),
    ...(agent && { agent }),
    ...(user && { user }),
    ...(groups.trim() && { groups: names.filter((each) => each !== '') }),
    ...(time && { time }),
    ...(destination && { destination }),
    ...(forwarded && { 'forwarded-for': forwarded }),
    // Of headers that are not typed nothing is known.
    ...(Object.keys(headers).length > 0 && { 'some-headers': headers }),
  };
}

/** The headers by their names; one that is sent several times has several values. */
function headersOf(headers: string): Record<string, readonly string[]> {
  const found = new Map<string, string[]>();
  const add = (name: string, value: string) => found.set(name, [...(found.get(name) ?? []), value]);
  for (const line of headers.split('\n')) {
    const [, name, value = ''] = /^\s*([^:\s]+)\s*:(.*)$/.exec(line) ?? [];
    if (name !== undefined) add(name.toLowerCase(), value.trim());
  }
  return Object.fromEntries(found);
}

/** The lines of headers that are none, which the request would be without. */
export const linesWithoutHeader = (headers: string): string[] =>
  headers.split('\n').filter((line) => line.trim() !== '' && !/^\s*[^:\s]+\s*:/.test(line));
