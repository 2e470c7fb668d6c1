import type { Prepared } from '@jade-fence/core';
import type { Knex } from 'knex';
import { Preparer } from './preparer.js';
import type { Readings } from './readings.js';
import { stateKey, stateParts, type WorkspaceState } from './state.js';

const MOST_KEPT = 4;

/** Prepares states of the workspace for judging, and keeps the last few. */
export class PreparedStates {
  readonly #knex: Knex;
  readonly #preparer = new Preparer();
  readonly #kept = new Map<string, Promise<Prepared>>();

  constructor(knex: Knex) {
    this.#knex = knex;
  }

  /** What versions of documents hold. */
  get readings(): Readings {
    return this.#preparer.readings;
  }

  get(state: WorkspaceState): Promise<Prepared> {
    const key = stateKey(state);
    const known =
      this.#kept.get(key) ?? stateParts(this.#knex, state).then((parts) => this.#preparer.load(this.#knex, parts));
    this.#kept.delete(key);
    this.#kept.set(key, known);
    known.catch(() => this.#kept.delete(key));
    for (const old of [...this.#kept.keys()].slice(0, -MOST_KEPT)) this.#kept.delete(old);
    return known;
  }
}
