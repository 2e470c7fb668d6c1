import { type Request, VALUE_FIELDS } from '../../request/index.js';
import { parseTime } from '../../text/time.js';
import { type FieldFault, type LineFaultCode, type LineResult, lineFault } from '../line.js';
import { Memo, readAuthority, readPeer, readTarget, readUrl, type TargetParts } from './fields.js';
import { withOneTruth } from './one-truth.js';

/**
 * The short names that we give the fields of requests. `headers` and `some-headers` hold an object of names and values,
 * of all headers or of those that were chosen to be logged.
 */
export const REQUEST_FIELDS = [
  ...VALUE_FIELDS,
  ...(['url', 'forwarded', 'forwarded-for', 'headers', 'some-headers', 'groups', 'met'] as const),
] as const;

const KNOWN = new Set<string>(REQUEST_FIELDS);
const peers = new Memo(readPeer);
const authorities = new Memo(readAuthority);
const targets = new Memo(readTarget);
const urls = new Memo(readUrl);
/** This many unknown names are counted one by one; the rest together. */
const MOST_IGNORED = 100;
const LONGEST_IGNORED = 100;
const OTHERS = '(others)';
const NO_HEADERS: Request['headers'] = new Map();
const NO_TEXTS: readonly string[] = [];

type Fields = Readonly<Record<string, unknown>>;
type Mutable = { -readonly [K in keyof Request]: Request[K] };

/**
 * Reads a request from an object in our short field names. A value that cannot be read leaves its field unseen, and is
 * among the result's faults; an object of which nothing can be read is refused. `at`: its time, whatever it says; in ms
 * since 1970.
 */
export function readRequest(fields: Fields, ignored = new Map<string, number>(), at?: number): LineResult {
  let known = 0;
  for (const name of Object.keys(fields)) {
    if (KNOWN.has(name)) known++;
    else countIgnored(ignored, name);
  }
  if (known === 0) return lineFault('nothing-known', Object.keys(fields).slice(0, 5).join(', ') || 'it is empty');
  const reader = new FieldReader(fields);
  const request = reader.request(at);
  const [first] = reader.faults;
  if (isEmpty(request)) return first ? { fault: first } : lineFault('no-field', Object.keys(fields).join(', '));
  return first === undefined ? { request } : { request, faults: reader.faults };
}

/** A log whose every line has new names must not fill the memory. */
export function countIgnored(ignored: Map<string, number>, name: string, count = 1): void {
  const key = ignored.has(name) || ignored.size < MOST_IGNORED ? name.slice(0, LONGEST_IGNORED) : OTHERS;
  ignored.set(key, (ignored.get(key) ?? 0) + count);
}

function isEmpty(request: Request): boolean {
  for (const field of VALUE_FIELDS) if (request[field] !== undefined) return false;
  return request.groups === undefined && request.headers.size === 0 && request.met.length === 0;
}

const NO_FAULTS: readonly FieldFault[] = [];

/** Reads the fields of one object, and keeps what is wrong with them. */
class FieldReader {
  faults = NO_FAULTS;
  readonly #fields: Fields;

  constructor(fields: Fields) {
    this.#fields = fields;
  }

  request(at: number | undefined): Request {
    const time = this.#time();
    // All fields in the order of `makeRequest`, so that all requests are of one shape and none is made over.
    const found: Mutable = {
      time: at ?? time,
      peer: undefined,
      method: this.#text('method')?.toUpperCase(),
      scheme: this.#text('scheme')?.toLowerCase(),
      host: undefined,
      port: undefined,
      path: undefined,
      query: undefined,
      protocol: this.#text('protocol'),
      destination: undefined,
      user: userOrNone(this.#textOrNone('user', 'anonymous')),
      groups: this.#texts('groups'),
      agent: this.#textOrNone('agent', 'absent'),
      referrer: this.#textOrNone('referrer', 'absent'),
      size: this.#number('size', Number.MAX_SAFE_INTEGER),
      status: this.#number('status', 999),
      bytes: this.#number('bytes', Number.MAX_SAFE_INTEGER),
      headers: NO_HEADERS,
      allHeaders: false,
      met: this.#texts('met') ?? NO_TEXTS,
    };
    found.destination = this.#read('destination', peers, 'bad-destination');
    found.peer = this.#read('peer', peers, 'bad-peer');
    this.#place(found);
    this.#headers(found);
    return withOneTruth(found);
  }

  #fault(field: string, code: LineFaultCode, detail: string): undefined {
    this.faults = [...this.faults, { ...lineFault(code, detail).fault, field }];
  }

  /** Where to: from `url`, or from `host`, `port`, `path` and `query`, which come before what `url` says. */
  #place(found: Mutable): void {
    if (found.method === 'CONNECT' && this.#tunnel(found)) return;
    take(found, this.#read('url', urls, 'bad-url'));
    take(found, this.#read('host', authorities, 'bad-host'));
    if (this.#fields.path !== '*') take(found, this.#read('path', targets, 'bad-url'));
    const query = this.#text('query');
    if (query !== undefined) found.query = query.replace(/^\?/, '');
    const port = this.#number('port', 65535);
    if (port !== undefined) found.port = port;
  }

  /** A tunnel's target is a host and a port; it shows no path. Returns whether the fields have one. */
  #tunnel(found: Mutable): boolean {
    const { url, path } = this.#fields;
    const target = [url, path].find((each) => typeof each === 'string' && /^[^/]+:\d{1,5}\/?$/.test(each));
    const parts: TargetParts | 'bad' = typeof target === 'string' ? authorities.get(target.replace(/\/$/, '')) : 'bad';
    if (parts === 'bad') return false;
    take(found, parts);
    return true;
  }

  #read<T>(name: string, values: Memo<T | 'bad'>, code: LineFaultCode): T | undefined {
    const text = this.#text(name);
    if (text === undefined) return undefined;
    const value = values.get(text);
    return value === 'bad' ? this.#fault(name, code, text) : value;
  }

  #text(name: string): string | undefined {
    const value = this.#fields[name];
    if (isMissing(value)) return undefined;
    if (typeof value === 'string') return value;
    return this.#fault(name, 'wrong-type', `${name} is ${JSON.stringify(value)}`);
  }

  /** A text, or the word that says that there is known to be none, which is held as an empty text. */
  #textOrNone(name: string, none: string): string | undefined {
    const value = this.#fields[name];
    if (value === '' || value === '-' || value === none) return '';
    return this.#text(name);
  }

  /** A list of texts; a text by itself is a list of one. */
  #texts(name: string): string[] | undefined {
    const value = this.#fields[name];
    if (!Array.isArray(value)) {
      const one = this.#text(name);
      return one === undefined || one.includes('\n') ? undefined : [one];
    }
    if (value.every((each) => typeof each === 'string' && each !== '' && !each.includes('\n')))
      return value as string[];
    return this.#fault(name, 'wrong-type', `${name} is no list of texts`);
  }

  #number(name: string, most: number): number | undefined {
    const value = this.#fields[name];
    if (isMissing(value)) return undefined;
    const count = typeof value === 'string' && /^\d+$/.test(value) ? Number(value) : value;
    if (typeof count === 'number' && Number.isInteger(count) && count >= 0 && count <= most) return count;
    return this.#fault(name, 'bad-number', `${name} is ${JSON.stringify(value)}`);
  }

  /** A time of RFC 3339, or a number of seconds since 1970; a number over 100,000,000,000 is of milliseconds. */
  #time(): number | undefined {
    const value = this.#fields.time;
    if (isMissing(value)) return undefined;
    const time = typeof value === 'string' ? parseTime(withColon(value)) : seconds(value);
    return time ?? this.#fault('time', 'bad-time', JSON.stringify(value));
  }

  /**
   * The headers of the log, in one object or by themselves. The object `headers` holds all that came; where one of
   * them cannot be read, that can no longer be said.
   */
  #headers(found: Mutable): void {
    const { headers, 'some-headers': some } = this.#fields;
    const faults = this.faults;
    const values = new Map<string, readonly string[]>();
    const isAll = this.#headersIn('headers', headers, values);
    found.allHeaders = isAll && this.faults === faults;
    this.#headersIn('some-headers', some, values);
    for (const [name, header] of FORWARDING) {
      const text = this.#text(name);
      if (text !== undefined) values.set(header, [text]);
    }
    if (values.size > 0) found.headers = values;
  }

  /** Whether the value is an object of headers. */
  #headersIn(field: string, given: unknown, into: Map<string, readonly string[]>): boolean {
    if (given === undefined || given === null) return false;
    if (typeof given !== 'object' || Array.isArray(given)) {
      this.#fault(field, 'wrong-type', `${field} is no object`);
      return false;
    }
    for (const [written, value] of Object.entries(given)) {
      const name = written.toLowerCase();
      const values = headerTexts(value);
      if (values === 'bad') this.#fault(`header.${name}`, 'wrong-type', `${name} is ${JSON.stringify(value)}`);
      else if (values) into.set(name, [...(into.get(name) ?? []), ...values]);
    }
    return true;
  }
}

/** Takes over the parts that a value has. */
function take(found: Mutable, parts: TargetParts | undefined): void {
  if (parts === undefined) return;
  if (parts.scheme !== undefined) found.scheme = parts.scheme;
  if (parts.host !== undefined) found.host = parts.host;
  if (parts.port !== undefined) found.port = parts.port;
  if (parts.path !== undefined) found.path = parts.path;
  if (parts.query !== undefined) found.query = parts.query;
}

const FORWARDING = [
  ['forwarded', 'forwarded'],
  ['forwarded-for', 'x-forwarded-for'],
] as const;

/** Many programs write an offset without its colon, which ISO 8601 takes and RFC 3339 does not. */
const withColon = (text: string): string => {
  const sign = text.charCodeAt(text.length - 5);
  return sign === 43 || sign === 45 ? text.replace(/([+-]\d\d)(\d\d)$/, '$1:$2') : text;
};

const isMissing = (value: unknown): boolean => value === undefined || value === null || value === '' || value === '-';

/** Anonymous is the user that is none, in any case of letters. */
const userOrNone = (user: string | undefined): string | undefined =>
  user?.length === ANONYMOUS.length && user.toLowerCase() === ANONYMOUS ? '' : user;
const ANONYMOUS = 'anonymous';

/** Numbers up to this are times in seconds, and larger ones in milliseconds. */
export const MOST_SECONDS = 1e11;

function seconds(value: unknown): number | undefined {
  if (typeof value !== 'number' || !Number.isFinite(value) || value < 0 || value > 8.64e15) return undefined;
  return Math.floor(value > MOST_SECONDS ? value : value * 1000);
}

/** The values of a header: a text, a number, a boolean, or a list of those; undefined for null, which means absent. */
function headerTexts(value: unknown): readonly string[] | 'bad' | undefined {
  if (value === null) return undefined;
  if (!Array.isArray(value)) return isScalar(value) ? [String(value)] : 'bad';
  return value.every(isScalar) ? value.map(String) : 'bad';
}

const isScalar = (value: unknown): boolean => ['string', 'number', 'boolean'].includes(typeof value);
