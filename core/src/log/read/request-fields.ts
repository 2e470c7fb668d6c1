import type { Request } from '../../request/index.js';
import { parseTime } from '../../text/time.js';
import { type LineResult, lineFault } from '../line.js';
import { Memo, readAuthority, readPeer, readTarget, type TargetParts } from './fields.js';

/**
 * The short names that we give the fields of requests. `headers` and `some-headers` hold an object of names and values,
 * of all headers or of those that were chosen to be logged.
 */
export const REQUEST_FIELDS = [
  ...['time', 'peer', 'method', 'scheme', 'host', 'port', 'path', 'query', 'url', 'protocol', 'user', 'agent'],
  ...[
    'referrer',
    'size',
    'status',
    'bytes',
    'forwarded',
    'forwarded-for',
    'headers',
    'some-headers',
    'destination',
    'groups',
  ],
  'met',
] as const;

const KNOWN = new Set<string>(REQUEST_FIELDS);
const peers = new Memo(readPeer);
const authorities = new Memo(readAuthority);
const targets = new Memo(readTarget);
/** So many names that are not ours are counted each by itself; the rest together. */
const MOST_IGNORED = 100;
const LONGEST_IGNORED = 100;
const OTHERS = '(others)';
const NO_HEADERS: Request['headers'] = new Map();
const NO_TEXTS: readonly string[] = [];

type Mutable = { -readonly [K in keyof Request]: Request[K] };

/** A fault of a field; thrown and caught within this file only, so that the reading of fields stays flat. */
class FieldFault extends Error {
  readonly result: LineResult;

  constructor(...fault: Parameters<typeof lineFault>) {
    super(fault[0]);
    this.result = lineFault(...fault);
  }
}

/** Reads a request from an object in our short field names. `at`: its time, whatever it tells; in ms since 1970. */
export function readRequest(
  fields: Readonly<Record<string, unknown>>,
  ignored = new Map<string, number>(),
  at?: number,
): LineResult {
  try {
    return readFields(fields, ignored, at);
  } catch (error) {
    if (error instanceof FieldFault) return error.result;
    throw error;
  }
}

function readFields(
  fields: Readonly<Record<string, unknown>>,
  ignored: Map<string, number>,
  at: number | undefined,
): LineResult {
  let known = 0;
  for (const name of Object.keys(fields)) {
    if (KNOWN.has(name)) known++;
    else countIgnored(ignored, name);
  }
  if (known === 0) return lineFault('nothing-known', Object.keys(fields).slice(0, 5).join(', ') || 'it is empty');
  const told = readTime(fields.time);
  // All fields in the order of `makeRequest`, so that all requests are of one shape and none is made over.
  const found: Mutable = {
    time: at ?? told,
    peer: undefined,
    method: text(fields, 'method')?.toUpperCase(),
    scheme: text(fields, 'scheme')?.toLowerCase(),
    host: undefined,
    port: undefined,
    path: undefined,
    query: undefined,
    protocol: text(fields, 'protocol'),
    destination: undefined,
    user: textOrNone(fields, 'user', 'anonymous'),
    groups: texts(fields, 'groups'),
    agent: textOrNone(fields, 'agent', 'absent'),
    referrer: textOrNone(fields, 'referrer', 'absent'),
    size: number(fields, 'size', Number.MAX_SAFE_INTEGER),
    status: number(fields, 'status', 999),
    bytes: number(fields, 'bytes', Number.MAX_SAFE_INTEGER),
    headers: readHeaders(fields),
    // The object of headers is taken for all that came; the two that may be told by themselves are not.
    allHeaders: typeof fields.headers === 'object' && fields.headers !== null,
    met: texts(fields, 'met') ?? NO_TEXTS,
  };
  const destination = text(fields, 'destination');
  if (destination !== undefined) found.destination = good(peers.get(destination), 'bad-destination', destination);
  const peer = text(fields, 'peer');
  if (peer !== undefined) found.peer = good(peers.get(peer), 'bad-peer', peer);
  readPlace(fields, found);
  return { request: found };
}

/** A log whose every line has new names must not fill the memory. */
export function countIgnored(ignored: Map<string, number>, name: string, count = 1): void {
  const key = ignored.has(name) || ignored.size < MOST_IGNORED ? name.slice(0, LONGEST_IGNORED) : OTHERS;
  ignored.set(key, (ignored.get(key) ?? 0) + count);
}

/** Where to: from `url`, or from `host`, `port`, `path` and `query`, which come before what `url` tells. */
function readPlace(fields: Readonly<Record<string, unknown>>, found: Mutable): void {
  if (found.method === 'CONNECT' && readTunnel(fields, found)) return;
  const url = text(fields, 'url');
  if (url !== undefined) {
    const parts = good(targets.get(url), 'bad-url', url);
    if (parts.host === undefined) throw new FieldFault('bad-url', url);
    assign(found, parts);
  }
  const host = text(fields, 'host');
  if (host !== undefined) assign(found, good(authorities.get(host), 'bad-host', host));
  const path = text(fields, 'path');
  if (path !== undefined && path !== '*') assign(found, good(targets.get(path), 'bad-url', path));
  const query = text(fields, 'query');
  if (query !== undefined) found.query = query.replace(/^\?/, '');
  const port = number(fields, 'port', 65535);
  if (port !== undefined) found.port = port;
}

/** A tunnel's target is a host and a port; it shows no path. Whether the fields tell one. */
function readTunnel(fields: Readonly<Record<string, unknown>>, found: Mutable): boolean {
  const target = [fields.url, fields.path].find((each) => typeof each === 'string' && /^[^/]+:\d{1,5}\/?$/.test(each));
  const parts = typeof target === 'string' ? authorities.get(target.replace(/\/$/, '')) : 'bad';
  if (parts === 'bad') return false;
  assign(found, parts);
  return true;
}

function assign(found: Mutable, parts: TargetParts): void {
  Object.assign(found, parts);
}

function good<T>(value: T | 'bad', code: 'bad-peer' | 'bad-destination' | 'bad-host' | 'bad-url', shown: string): T {
  if (value === 'bad') throw new FieldFault(code, shown);
  return value as T;
}

function text(fields: Readonly<Record<string, unknown>>, name: string): string | undefined {
  const value = fields[name];
  if (value === undefined || value === null || value === '' || value === '-') return undefined;
  if (typeof value === 'string') return value;
  throw new FieldFault('wrong-type', `${name} is ${JSON.stringify(value)}`);
}

/** A text, or the word that says that there is known to be none, which is held as an empty text. */
function textOrNone(fields: Readonly<Record<string, unknown>>, name: string, none: string): string | undefined {
  const value = text(fields, name);
  return value === none ? '' : value;
}

/** A list of texts; a text by itself is a list of one. */
function texts(fields: Readonly<Record<string, unknown>>, name: string): string[] | undefined {
  const value = fields[name];
  if (!Array.isArray(value)) {
    const one = text(fields, name);
    return one === undefined ? undefined : [one];
  }
  if (value.every((each) => typeof each === 'string' && !each.includes('\n'))) return value as string[];
  throw new FieldFault('wrong-type', `${name} is no list of texts`);
}

function number(fields: Readonly<Record<string, unknown>>, name: string, most: number): number | undefined {
  const value = fields[name];
  if (value === undefined || value === null || value === '' || value === '-') return undefined;
  const count = typeof value === 'string' && /^\d+$/.test(value) ? Number(value) : value;
  if (typeof count === 'number' && Number.isInteger(count) && count >= 0 && count <= most) return count;
  throw new FieldFault('bad-number', `${name} is ${JSON.stringify(value)}`);
}

/** A time of RFC 3339, or a number of seconds since 1970; a number over 100,000,000,000 is of milliseconds. */
function readTime(value: unknown): number | undefined {
  if (value === undefined || value === null || value === '' || value === '-') return undefined;
  const time = typeof value === 'string' ? parseTime(value) : seconds(value);
  if (time === undefined) throw new FieldFault('bad-time', JSON.stringify(value));
  return time;
}

function seconds(value: unknown): number | undefined {
  if (typeof value !== 'number' || !Number.isFinite(value) || value < 0 || value > 8.64e15) return undefined;
  return Math.floor(value > 1e11 ? value : value * 1000);
}

function readHeaders(fields: Readonly<Record<string, unknown>>): Request['headers'] {
  const forwarded = text(fields, 'forwarded');
  const forwardedFor = text(fields, 'forwarded-for');
  const told = [fields['some-headers'], fields.headers].filter((each) => each !== undefined && each !== null);
  if (told.length === 0 && forwarded === undefined && forwardedFor === undefined) return NO_HEADERS;
  const found = new Map<string, string>();
  for (const headers of told) {
    if (typeof headers !== 'object' || Array.isArray(headers))
      throw new FieldFault('wrong-type', 'headers is no object');
    for (const [name, value] of Object.entries(headers as object)) found.set(name.toLowerCase(), String(value));
  }
  if (forwarded !== undefined) found.set('forwarded', forwarded);
  if (forwardedFor !== undefined) found.set('x-forwarded-for', forwardedFor);
  return found;
}
