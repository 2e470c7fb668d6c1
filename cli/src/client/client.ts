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
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { answerOf, send } from './send.js';

/** Calls the service's API. Whatever is not a success becomes a `Failure`. */
export class Client {
  readonly #base: string;
  readonly #key: () => string;
  readonly #signal: AbortSignal | undefined;

  /**
   * @param key answers the access key when one is first needed
   * @param signal ends every call that is under way
   */
  constructor(base: string, key: () => string, signal?: AbortSignal) {
    this.#base = base.replace(/\/+$/, '');
    this.#key = key;
    this.#signal = signal;
  }

  get base(): string {
    return this.#base;
  }

  headers(): Record<string, string> {
    const key = this.#key();
    // Other characters than those of a token cannot be sent in a header (RFC 6750, section 2.1).
    if (!/^[\x21-\x7e]+$/.test(key)) throw failure(EXIT.service, 'no-access-key/unusable');
    return { authorization: `Bearer ${key}` };
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
    return answerOf<AnswerOf<C>>(this.#base, await this.#send(message, file));
  }

  async #body(message: Message): Promise<ReadableStream<Uint8Array<ArrayBuffer>>> {
    const { body, status } = await this.#send(message);
    if (body === null) throw failure(EXIT.service, 'not-our-service', { status });
    return body;
  }

  async #send({ headers, ...message }: Message, file?: Uint8Array<ArrayBuffer>): Promise<Response> {
    const sent = { ...message, headers: { ...this.headers(), ...headers }, body: file ?? message.body };
    return send(this.#base, sent, this.#signal);
  }
}

/** A call that carries no file, and answers JSON or nothing. */
type PlainCall = Exclude<CallName, CallsWith<'file' | 'download' | 'events'>>;
