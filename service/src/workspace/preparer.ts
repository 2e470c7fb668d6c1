import { type CountryData, linkFiles, type Prepared, prepare, type ReadFiles } from '@jade-fence/core';
import type { Knex } from 'knex';
import { compileCountryFile } from '../country/compile.js';
import { Readings } from './readings.js';
import type { StateParts, WholeParts } from './state.js';

/** Prepares states of the workspace for judging. What a state has in common with the one before it is not made again. */
export class Preparer {
  readonly readings = new Readings();
  /** The last state. */
  #last: Prepared | undefined;
  #country: { readonly id: number; readonly data: CountryData } | undefined;

  /** Fetches what is not known of the documents. */
  async load(knex: Knex, state: StateParts): Promise<Prepared> {
    return this.#prepare(state, await this.readings.load(knex, state.documents));
  }

  prepare(state: WholeParts): Prepared {
    return this.#prepare(state, this.readings.read(state.documents, state.parts));
  }

  #prepare({ country, at }: StateParts, read: readonly ReadFiles[]): Prepared {
    if (country && this.#country?.id !== country.id)
      this.#country = { id: country.id, data: compileCountryFile(country.packed) };
    const countryData = country && this.#country?.data;
    const { workspace } = linkFiles(read);
    this.#last = prepare(workspace, { countryData, at: at.getTime(), previous: this.#last });
    return this.#last;
  }
}
