import { type Readiness } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { countryDataInForce } from '../country/store.js';
import { draftNumber } from '../workspace/draft.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { readinessOf } from './publish.js';
import { publishedRevision } from './store.js';

/** For so long what was found holds where nothing changed; entries of lists may run out meanwhile. */
const HOLDS_MS = 30_000;

/**
 * What was known of the draft lately: consoles ask every few seconds, and a review takes seconds of a thousand rules.
 * Publishing never goes by it.
 */
export class LatelyReady {
  readonly #knex: Knex;
  readonly #states: PreparedStates;
  #known: { readonly key: string; readonly until: number; readonly ready: Promise<Readiness> } | undefined;

  constructor(knex: Knex, states: PreparedStates) {
    this.#knex = knex;
    this.#states = states;
  }

  async get(): Promise<Readiness> {
    const [draft, published, country] = await Promise.all([
      draftNumber(this.#knex),
      publishedRevision(this.#knex),
      countryDataInForce(this.#knex),
    ]);
    const key = `${draft} ${published?.number} ${country?.id}`;
    if (this.#known?.key !== key || this.#known.until < Date.now()) {
      const ready = readinessOf(this.#knex, this.#states, new Date());
      this.#known = { key, until: Date.now() + HOLDS_MS, ready };
      ready.catch(() => {
        this.#known = undefined;
      });
    }
    return this.#known.ready;
  }
}
