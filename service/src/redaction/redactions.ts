import { NO_REDACTION, type Pseudonym, redactedByAny, tryRedaction } from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Replay } from '../model/replay.js';
import { stateOf } from '../replay/store.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { pseudonymsOf } from './pseudonyms.js';
import { ReplayRedactor } from './replay-redactor.js';

/** Makes what redacts the answers about replays. */
export class Redactions {
  readonly #knex: Knex;
  readonly #states: PreparedStates;
  #pseudonyms: Promise<Pseudonym> | undefined;

  constructor(knex: Knex, states: PreparedStates) {
    this.#knex = knex;
    this.#states = states;
  }

  /** For answers about the replay; `asked` are the words of what the caller asks for beside the policies. */
  async of(replay: Replay, asked: readonly string[] = []): Promise<ReplayRedactor> {
    const { workspace } = await this.#states.get(stateOf(replay));
    this.#pseudonyms ??= pseudonymsOf(this.#knex);
    this.#pseudonyms.catch(() => {
      this.#pseudonyms = undefined;
    });
    const byPolicy = new Map([...workspace.policies].map(([name, { redact }]) => [name, redact]));
    const words = asked.map((word) => tryRedaction(word) ?? NO_REDACTION);
    return new ReplayRedactor(byPolicy, redactedByAny(words), await this.#pseudonyms);
  }
}
