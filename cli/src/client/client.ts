import { Readable } from 'node:stream';
import type { ReadableStream as WebStream } from 'node:stream/web';
import {
  type AnswerOf,
  type CallName,
  type CallsWith,
  type Carried,
  type Carrying,
  type EventOf,
  type Message,
  messageOf,
  type PagedCall,
  whole,
} from '@jade-fence/contract';
import { EventSourceParserStream } from 'eventsource-parser/stream';
import { EXIT, type ExitCode } from '../exit-code.js';
import { Failure, type FailureBody, failure } from '../failure.js';

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

  /** Makes a call of the contract, and answers what comes back. */
  async call<C extends PlainCall>(call: C, ...carrying: Carrying<C>): Promise<AnswerOf<C>> {
    return this.#answered<C>(messageOf(call, ...carrying));
  }

  /** All pages of a collection as one answer. */
  async all<C extends PagedCall>(call: C, ...[carried]: Carrying<C>): Promise<AnswerOf<C>> {
    const ask = (page: Carried<C>) => this.#answered<C>(messageOf(call, ...([page] as unknown as Carrying<C>)));
    return whole<C>(ask, (carried ?? {}) as Carried<C>);
  }

  /** Makes a call that has a file as its body. */
  async send<C extends CallsWith<'file'>>(
    call: C,
    file: Uint8Array<ArrayBuffer>,
    ...carrying: Carrying<C>
  ): Promise<AnswerOf<C>> {
    const { headers, ...message } = messageOf(call, ...carrying);
    return this.#answered<C>({ ...message, headers: { ...headers, 'content-type': 'application/octet-stream' } }, file);
  }

  /** What a call gives, as it comes; for files. */
  async download<C extends CallsWith<'download'>>(call: C, ...carrying: Carrying<C>): Promise<Readable> {
    return Readable.fromWeb((await this.#body(messageOf(call, ...carrying))) as WebStream);
  }

  /** The server-sent events of a call, until the service ends them or is gone. */
  async *events<C extends CallsWith<'events'>>(call: C, ...carrying: Carrying<C>): AsyncGenerator<EventOf<C>> {
    const body = await this.#body(messageOf(call, ...carrying));
    const events = body.pipeThrough(new TextDecoderStream()).pipeThrough(new EventSourceParserStream());
    try {
      for await (const { data } of events) yield JSON.parse(data) as EventOf<C>;
    } catch (error) {
      // A stream that breaks off in the middle has ended too.
      if (!(error instanceof TypeError)) throw error;
    }
  }

  /** Whether the service answers, and can reach its database. */
  async isReady(): Promise<boolean> {
    return fetch(`${this.#base}/ready`).then(
      ({ ok }) => ok,
      () => false,
    );
  }

  async #answered<C extends CallName>(message: Message, file?: Uint8Array<ArrayBuffer>): Promise<AnswerOf<C>> {
    const response = await this.#fetch(message, file);
    const text = await response.text();
    if (!response.ok) throw failureOf(response.status, text);
    return (text === '' ? undefined : JSON.parse(text)) as AnswerOf<C>;
  }

  async #body(message: Message): Promise<ReadableStream<Uint8Array<ArrayBuffer>>> {
    const response = await this.#fetch(message);
    if (!response.ok || response.body === null) throw failureOf(response.status, await response.text());
    return response.body;
  }

  async #fetch({ method, path, headers, body }: Message, file?: Uint8Array<ArrayBuffer>): Promise<Response> {
    const sent = file ?? body;
    const all = { ...this.headers(), ...headers };
    try {
      return await fetch(`${this.#base}${path}`, { method, headers: all, ...(sent !== undefined && { body: sent }) });
    } catch (error) {
      throw unreachable(this.#base, (error as { cause?: { code?: string } }).cause?.code);
    }
  }
}

/** A call that carries no file, and answers JSON or nothing. */
type PlainCall = Exclude<CallName, CallsWith<'file' | 'download' | 'events'>>;

/** The failure in an answer of the service. */
export function failureOf(status: number, text: string): Failure {
  try {
    const body = JSON.parse(text) as FailureBody;
    if (typeof body.detail === 'string') return new Failure(exitCodeOf(status, body.code), body);
  } catch {
    // Not our service, or something in between: reported below.
  }
  return failure(EXIT.service, 'not-our-service', { status });
}

/** What is wrong with what was given, rather than with giving it. */
const NOT_HELD = new Set(['invalid-workspace', 'checks-fail', 'warnings']);

function exitCodeOf(status: number, code: string): ExitCode {
  if (status === 401 || status === 503) return EXIT.service;
  return NOT_HELD.has(code) ? EXIT.notHeld : status >= 500 ? EXIT.internal : EXIT.refused;
}

export function unreachable(base: string, reason: string | undefined): Failure {
  return failure(EXIT.service, 'service-unreachable', { base, reason });
}
