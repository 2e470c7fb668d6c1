import type { Request } from '../../request/index.js';
import { type FieldFault, type LineFault, type LineResult, lineFault } from '../line.js';
import { readRequest } from './request-fields.js';

const LONGEST_ENTRY = 16 * 1024 * 1024;
const LONGEST_HEAD = 4 * 1024 * 1024;

export interface EntryTaker {
  request(request: Request, line: number, faults?: readonly FieldFault[]): void;
  rejected(line: number, fault: LineFault, text: string): void;
}

/**
 * Reads an HTTP archive (HAR 1.2) as it comes: one JSON document, of whose `log.entries` each is read by itself, so
 * that the whole is never in memory. Entries are numbered by the line that they start in.
 */
export class HarReader {
  readonly #taker: EntryTaker;
  readonly #decoder = new TextDecoder();
  #text = '';
  /** How far the text has been looked at. */
  #at = 0;
  /** The line of the first character of the text. */
  #line = 1;
  #inEntries = false;
  #ended = false;
  #depth = 0;
  #start = -1;
  #inString = false;

  constructor(taker: EntryTaker) {
    this.#taker = taker;
  }

  /** The line that was reached. */
  get lines(): number {
    return this.#line;
  }

  push(piece: Uint8Array): void {
    this.#text += this.#decoder.decode(piece, { stream: true });
    this.#scan();
  }

  end(): void {
    this.#text += this.#decoder.decode();
    this.#scan();
    if (this.#ended) return;
    if (!this.#inEntries) this.#reject('not-har', this.#text.slice(0, 80) || 'it is empty');
    else if (this.#start >= 0) this.#reject('cut-off', this.#text.slice(this.#start, this.#start + 80));
    else this.#reject('cut-off', 'log.entries is not closed');
    this.#drop(this.#text.length);
  }

  #scan(): void {
    if (!this.#inEntries && !this.#ended) this.#findEntries();
    if (!this.#inEntries || this.#ended) {
      if (this.#ended) this.#drop(this.#text.length);
      return;
    }
    for (; this.#at < this.#text.length; this.#at++) {
      const unit = this.#text.charCodeAt(this.#at);
      if (this.#inString) {
        if (unit === BACKSLASH) this.#at++;
        else if (unit === QUOTE) this.#inString = false;
      } else if (unit === QUOTE) this.#inString = true;
      else if (unit === OPEN || unit === OPEN_LIST) {
        if (this.#depth++ === 0) this.#start = this.#at;
      } else if (unit === CLOSE || unit === CLOSE_LIST) {
        if (this.#depth === 0) {
          this.#ended = true;
          return;
        }
        if (--this.#depth === 0) this.#entry();
      }
    }
    if (this.#start < 0) this.#drop(this.#at);
    else if (this.#text.length - this.#start > LONGEST_ENTRY) this.#tooLong();
  }

  /** `entries` of `log`, which may come after other members. */
  #findEntries(): void {
    const found = /"entries"\s*:\s*\[/.exec(this.#text);
    if (found) {
      this.#inEntries = true;
      this.#at = found.index + found[0].length;
    } else if (this.#text.length > LONGEST_HEAD) {
      this.#reject('not-har', 'it has no log.entries');
      this.#ended = true;
    }
  }

  #entry(): void {
    const text = this.#text.slice(this.#start, this.#at + 1);
    this.#drop(this.#start);
    const line = this.#line;
    const result = readEntry(text);
    if ('request' in result) this.#taker.request(result.request, line, result.faults);
    else this.#taker.rejected(line, result.fault, text);
    this.#drop(text.length);
    this.#start = -1;
    this.#at = -1;
  }

  /** An entry that long is passed over, and with it what follows, since its end is not looked for in bounded memory. */
  #tooLong(): void {
    this.#reject('too-long', '16 MiB; the rest was skipped');
    this.#ended = true;
    this.#drop(this.#text.length);
  }

  #reject(code: 'not-har' | 'cut-off' | 'too-long', detail: string): void {
    this.#taker.rejected(this.#line, lineFault(code, detail).fault, this.#text.slice(0, 2000));
  }

  /** Forgets what was read, and counts its lines. */
  #drop(count: number): void {
    for (let at = this.#text.indexOf('\n'); at >= 0 && at < count; at = this.#text.indexOf('\n', at + 1)) this.#line++;
    this.#text = this.#text.slice(count);
    this.#at = Math.max(0, this.#at - count);
    if (this.#start >= 0) this.#start = Math.max(0, this.#start - count);
  }
}

const QUOTE = 34;
const BACKSLASH = 92;
const OPEN = 123;
const CLOSE = 125;
const OPEN_LIST = 91;
const CLOSE_LIST = 93;

interface Entry {
  readonly startedDateTime?: unknown;
  readonly serverIPAddress?: unknown;
  readonly request?: {
    readonly method?: unknown;
    readonly url?: unknown;
    readonly httpVersion?: unknown;
    readonly headers?: readonly { readonly name?: unknown; readonly value?: unknown }[];
    readonly bodySize?: unknown;
  };
  readonly response?: { readonly status?: unknown; readonly bodySize?: unknown };
}

function readEntry(text: string): LineResult {
  let entry: Entry;
  try {
    entry = JSON.parse(text) as Entry;
  } catch (error) {
    return lineFault('not-json', (error as Error).message);
  }
  const { request, response } = entry;
  if (request === null || typeof request !== 'object') return lineFault('nothing-known', 'it has no request');
  const version = typeof request.httpVersion === 'string' ? request.httpVersion.toUpperCase() : undefined;
  return readRequest({
    time: entry.startedDateTime,
    method: request.method,
    url: request.url,
    protocol: version === 'H2' ? 'HTTP/2' : version === 'H3' ? 'HTTP/3' : version,
    headers: headersOf(request.headers),
    // -1 is a size that is not known, and 0 the status of a request without an answer.
    size: known(request.bodySize),
    status: response?.status === 0 ? undefined : response?.status,
    bytes: known(response?.bodySize),
    destination: typeof entry.serverIPAddress === 'string' ? entry.serverIPAddress : undefined,
  });
}

const known = (size: unknown): unknown => (typeof size === 'number' && size < 0 ? undefined : size);

/** Names that begin with a colon are not headers: HTTP/2 carries the request line in them. */
function headersOf(given: unknown): Record<string, unknown[]> | undefined {
  if (!Array.isArray(given)) return undefined;
  const found = new Map<string, unknown[]>();
  for (const each of given as { name?: unknown; value?: unknown }[]) {
    if (typeof each?.name !== 'string' || each.name.startsWith(':')) continue;
    const name = each.name.toLowerCase();
    found.set(name, [...(found.get(name) ?? []), each.value]);
  }
  return Object.fromEntries(found);
}
