import type { Prepared } from '@jade-fence/core/engine';
import type { Knex } from 'knex';
import { storedLoads } from '../resolution/store.js';
import { once } from '../worker/once.js';
import { giveMemoryBack } from './memory.js';
import { type Elsewhere, Preparer, type Stored } from './preparer.js';
import type { Readings } from './readings.js';
import { stateKey, stateParts, type WorkspaceState } from './state.js';

const MOST_KEPT = 4;
/** When no state is used for this long, all are dropped: the deciding process has what it needs. */
const IDLE_MS = 120_000;

const ELSEWHERE: Elsewhere = {
  flat: (packed) => once('flatCountryFile', [packed]),
  compile: (loads) => once('compileLoads', [loads]),
};

/** Prepares states of the workspace for judging, and keeps the last few. */
export class PreparedStates {
  readonly #stored: Stored;
  readonly #preparer = new Preparer();
  /** By the identity of the state, with the number of its country data. */
  readonly #kept = new Map<string, { readonly country: number | undefined; readonly prepared: Promise<Prepared> }>();
  readonly #idle: NodeJS.Timeout;

  constructor(knex: Knex) {
    this.#stored = { knex, loads: storedLoads(knex) };
    this.#idle = setTimeout(() => this.#letGoOfAll(), IDLE_MS).unref();
  }

  /** What versions of documents hold. */
  get readings(): Readings {
    return this.#preparer.readings;
  }

  get(state: WorkspaceState): Promise<Prepared> {
    const key = stateKey(state);
    const country = state.countryDataId;
    const prepared =
      this.#kept.get(key)?.prepared ??
      stateParts(this.#stored.knex, state).then((parts) => this.#preparer.load(this.#stored, parts, ELSEWHERE));
    this.#kept.delete(key);
    this.#kept.set(key, { country, prepared });
    prepared.catch(() => this.#kept.delete(key));
    this.#letGo();
    this.#idle.refresh();
    return prepared;
  }

  #letGoOfAll(): void {
    this.#kept.clear();
    this.#preparer.letGo([]);
    giveMemoryBack();
  }

  /** Lets go of all but the states used last, and of those with country data that neither of the last two has. */
  #letGo(): void {
    const newest = [...new Set([...this.#kept.values()].reverse().map(({ country }) => country))].slice(0, 2);
    const old = [...this.#kept.keys()].slice(0, -MOST_KEPT);
    for (const [key, { country }] of this.#kept)
      if (old.includes(key) || !newest.includes(country)) this.#kept.delete(key);
    this.#preparer.letGo([...this.#kept.values()].map(({ country }) => country));
  }
}
