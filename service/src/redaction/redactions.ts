import {
  clientPseudonym,
  NO_REDACTION,
  type Pseudonym,
  type RequestFilter,
  redactedByAny,
  tryRedaction,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Replay } from '../model/replay.js';
import { clientNamed } from './client-named.js';
import { pseudonymsOf } from './pseudonyms.js';
import { ReplayRedactor } from './replay-redactor.js';

const MOST_NAMED = 10_000;

/** Makes what redacts the answers about replays. */
export class Redactions {
  readonly #knex: Knex;
  #pseudonyms: Promise<Pseudonym> | undefined;
  /** The addresses of pseudonyms that were asked for, replay by replay. */
  readonly #named = new Map<string, string>();

  constructor(knex: Knex) {
    this.#knex = knex;
  }

  /** For answers about the replay; `asked` are the words of what the caller asks for beside the policies. */
  async of({ redactions }: Replay, asked: readonly string[] = []): Promise<ReplayRedactor> {
    const words = asked.map((word) => tryRedaction(word) ?? NO_REDACTION);
    return new ReplayRedactor(new Map(Object.entries(redactions)), redactedByAny(words), await this.#key());
  }

  /** The filter with the address in the place of a client's pseudonym. */
  async meant(replay: Replay, filter: RequestFilter): Promise<RequestFilter> {
    const name = filter.client === undefined ? undefined : clientPseudonym(filter.client);
    if (name === undefined) return filter;
    const key = `${replay.id} ${name}`;
    const client = this.#named.get(key) ?? (await clientNamed(this.#knex, replay, name, await this.#key()));
    if (this.#named.size >= MOST_NAMED) this.#named.clear();
    this.#named.set(key, client);
    return { ...filter, client };
  }

  async #key(): Promise<Pseudonym> {
    this.#pseudonyms ??= pseudonymsOf(this.#knex);
    this.#pseudonyms.catch(() => {
      this.#pseudonyms = undefined;
    });
    return this.#pseudonyms;
  }
}
