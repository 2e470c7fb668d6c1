import { Readable } from 'node:stream';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { EventSourceParserStream } from 'eventsource-parser/stream';
import { EXIT, type ExitCode } from '../exit-code.js';
import { Failure, type FailureBody } from '../failure.js';

/** Calls the service's API. Whatever is not a success becomes a `Failure`. */
export class Client {
  readonly #base: string;
  readonly #key: () => string;

  /** @param key answers the access key when one is first needed */
  constructor(base: string, key: () => string) {
    this.#base = base.replace(/\/+$/, '');
    this.#key = key;
  }

  get base(): string {
    return this.#base;
  }

  headers(): Record<string, string> {
    return { authorization: `Bearer ${this.#key()}` };
  }

  get<T>(path: string, query: Query = {}): Promise<T> {
    return this.#call('GET', path, query, {});
  }

  /** @param version the state that the change was made for, where the call asks for it */
  delete(path: string, version?: Expected): Promise<void> {
    return this.#call('DELETE', path, {}, { headers: conditionOf(version) });
  }

  patch<T>(path: string, body: unknown): Promise<T> {
    return this.#call('PATCH', path, {}, json(body));
  }

  post<T>(path: string, body: unknown): Promise<T> {
    return this.#call('POST', path, {}, json(body));
  }

  /** @param version the state that the change was made for, where the call asks for it */
  put<T>(path: string, body: unknown, version?: Expected): Promise<T> {
    return this.#call('PUT', path, {}, { ...json(body), headers: conditionOf(version) });
  }

  putFile<T>(path: string, query: Query, file: Uint8Array<ArrayBuffer>): Promise<T> {
    return this.#call('PUT', path, query, { body: file, type: 'application/octet-stream' });
  }

  /** What the path gives, as it comes; for files. */
  async download(path: string, query: Query = {}): Promise<Readable> {
    const response = await this.#fetch('GET', path, query, {});
    if (!response.ok || response.body === null) throw failureOf(response.status, await response.text());
    return Readable.fromWeb(response.body as WebStream);
  }

  /** The data of the server-sent events of the path, until it ends them or is gone. */
  async *events(path: string): AsyncGenerator<string> {
    const response = await this.#fetch('GET', path, {}, {});
    if (!response.ok || response.body === null) throw failureOf(response.status, await response.text());
    const events = response.body.pipeThrough(new TextDecoderStream()).pipeThrough(new EventSourceParserStream());
    try {
      for await (const { data } of events) yield data;
    } catch (error) {
      // A stream that breaks off in the middle has ended too.
      if (!(error instanceof TypeError)) throw error;
    }
  }

  async #call<T>(method: string, path: string, query: Query, payload: Payload): Promise<T> {
    const response = await this.#fetch(method, path, query, payload);
    const text = await response.text();
    if (!response.ok) throw failureOf(response.status, text);
    return (text === '' ? undefined : JSON.parse(text)) as T;
  }

  async #fetch(method: string, path: string, query: Query, { body, type, headers: more }: Payload): Promise<Response> {
    const headers = { ...this.headers(), ...more, ...(type && { 'content-type': type }) };
    try {
      return await fetch(`${this.#base}${path}${queryText(query)}`, {
        method,
        headers,
        ...(body !== undefined && { body }),
      });
    } catch (error) {
      throw unreachable(this.#base, (error as { cause?: { code?: string } }).cause?.code);
    }
  }
}

/** What stands behind the question mark; of a list each value by itself. */
export type Query = Readonly<Record<string, string | number | readonly string[] | undefined>>;

interface Payload {
  readonly body?: string | Uint8Array<ArrayBuffer>;
  readonly type?: string;
  readonly headers?: Readonly<Record<string, string>>;
}

/** The version that an object is at, or that there is none of its name yet. */
export type Expected = number | 'absent';

/** What makes a call hold for one state only (RFC 9110, section 13.1). */
function conditionOf(version: Expected | undefined): Record<string, string> {
  if (version === undefined) return {};
  return version === 'absent' ? { 'if-none-match': '*' } : { 'if-match': `"${version}"` };
}

function json(body: unknown): Payload {
  return { body: JSON.stringify(body), type: 'application/json' };
}

/** `?a=1&b=2`, without what is undefined; empty where nothing is left. */
export function queryText(query: Query): string {
  const given = Object.entries(query).flatMap(([name, value]): [string, string][] =>
    value === undefined ? [] : [value].flat().map((each) => [name, String(each)]),
  );
  const text = new URLSearchParams(given).toString();
  return text === '' ? '' : `?${text}`;
}

/** The failure that an answer of the service tells. */
export function failureOf(status: number, text: string): Failure {
  try {
    const body = JSON.parse(text) as FailureBody;
    if (typeof body.detail === 'string') return new Failure(exitCodeOf(status, body.code), body);
  } catch {
    // Not our service, or something in between: told below.
  }
  return new Failure(EXIT.service, {
    code: 'not-our-service',
    detail: `What answers there is no Jade Fence service (status ${status}).`,
  });
}

/** What is wrong with what was given, rather than with giving it. */
const NOT_HELD = new Set(['invalid-workspace', 'checks-fail', 'warnings']);

function exitCodeOf(status: number, code: string): ExitCode {
  if (status === 401 || status === 503) return EXIT.service;
  return NOT_HELD.has(code) ? EXIT.notHeld : status >= 500 ? EXIT.internal : EXIT.refused;
}

export function unreachable(base: string, reason: string | undefined): Failure {
  return new Failure(EXIT.service, {
    code: 'service-unreachable',
    detail: `No service answers at ${base}${reason ? ` (${reason})` : ''}.`,
    remedy: 'Start it with `jade-fence serve`, or say where it is with --service URL or JADE_FENCE_URL.',
  });
}
