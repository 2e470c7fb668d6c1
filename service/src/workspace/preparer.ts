import { type CountryData, countryDataOf, type FlatCountryData } from '@jade-fence/core/country';
import { type Prepared, prepare } from '@jade-fence/core/engine';
import type { AnswerTable, Resolutions } from '@jade-fence/core/resolution';
import { linkFiles, type ReadFiles } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { flatCountryFile } from '../country/compile.js';
import { ResolutionStates, type StoredLoads } from '../resolution/states.js';
import { Readings } from './readings.js';
import type { StateParts, WholeParts } from './state.js';

/** What is published and what is drafted may have country data of their own. */
const MOST_COUNTRY_DATA = 2;

/** Where the parts of a state are fetched from. */
export interface Stored {
  readonly knex: Knex;
  readonly loads: StoredLoads;
}

/** What takes long, and is for another process to do. */
export interface Elsewhere {
  /** Makes country data of its packed file. */
  readonly flat: (packed: Uint8Array) => Promise<FlatCountryData>;
  /** Makes a table of the answers of loads, the oldest first. */
  readonly compile: (loads: readonly Uint8Array[]) => Promise<AnswerTable>;
}

/** Prepares states of the workspace for judging. What a state has in common with the one before it is not made again. */
export class Preparer {
  readonly readings = new Readings();
  /** The last state. */
  #last: Prepared | undefined;
  readonly #resolutions = new ResolutionStates();
  /** Country data by its number, the last used at the end. */
  readonly #country = new Map<number, Promise<CountryData> | CountryData>();

  /** Fetches what is not known of the documents. */
  async load({ knex, loads }: Stored, state: StateParts, { flat, compile }: Elsewhere): Promise<Prepared> {
    const { country } = state;
    const data = country && (await this.#countryData(country.id, () => flat(country.packed).then(countryDataOf)));
    const { resolutionsId } = state;
    const resolutions =
      resolutionsId === undefined ? undefined : await this.#resolutions.load(loads, resolutionsId, compile);
    return this.#prepare(state, await this.readings.load(knex, state.documents), data, resolutions);
  }

  /** The same in a worker thread, which may take its time; what the state needs has been fetched. */
  prepare(state: WholeParts): Prepared {
    const { country } = state;
    const data = country && this.#countryData(country.id, () => countryDataOf(flatCountryFile(country.packed)));
    const resolutions = state.resolutions.length === 0 ? undefined : this.#resolutions.prepare(state.resolutions);
    return this.#prepare(state, this.readings.read(state.documents, state.parts), data, resolutions);
  }

  /** Lets go of country data that none of these numbers is of; of the last state too, where there are none. */
  letGo(used: readonly (number | undefined)[]): void {
    for (const id of this.#country.keys()) if (!used.includes(id)) this.#country.delete(id);
    if (used.length > 0) return;
    this.#last = undefined;
    this.#resolutions.letGo();
  }

  #countryData<T extends Promise<CountryData> | CountryData>(id: number, make: () => T): T {
    const data = (this.#country.get(id) as T | undefined) ?? make();
    this.#country.delete(id);
    this.#country.set(id, data);
    if (data instanceof Promise) data.catch(() => this.#country.delete(id));
    for (const old of [...this.#country.keys()].slice(0, -MOST_COUNTRY_DATA)) this.#country.delete(old);
    return data;
  }

  #prepare(
    { at }: StateParts,
    read: readonly ReadFiles[],
    countryData: CountryData | undefined,
    resolutions: Resolutions | undefined,
  ): Prepared {
    const { workspace } = linkFiles(read);
    this.#last = prepare(workspace, { countryData, resolutions, at: at.getTime(), previous: this.#last });
    return this.#last;
  }
}
