import { NO_REDACTION, type Pseudonym, redactedByAny, tryRedaction } from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Replay } from '../model/replay.js';
import { pseudonymsOf } from './pseudonyms.js';
import { ReplayRedactor } from './replay-redactor.js';

/** Makes what redacts the answers about replays. */
export class Redactions {
  readonly #knex: Knex;
  #pseudonyms: Promise<Pseudonym> | undefined;

  constructor(knex: Knex) {
    this.#knex = knex;
  }

  /** For answers about the replay; `asked` are the words of what the caller asks for beside the policies. */
  async of({ redactions }: Replay, asked: readonly string[] = []): Promise<ReplayRedactor> {
    this.#pseudonyms ??= pseudonymsOf(this.#knex);
    this.#pseudonyms.catch(() => {
      this.#pseudonyms = undefined;
    });
    const words = asked.map((word) => tryRedaction(word) ?? NO_REDACTION);
    return new ReplayRedactor(new Map(Object.entries(redactions)), redactedByAny(words), await this.#pseudonyms);
  }
}
