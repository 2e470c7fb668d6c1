import { type CountryData, linkFiles, type Prepared, prepare } from '@jade-fence/core';
import { compileCountryFile } from '../country/compile.js';
import { Readings } from './readings.js';
import type { StateParts } from './state.js';

/** Prepares states of the workspace for judging. What a state has in common with the one before it is not made again. */
export class Preparer {
  readonly readings = new Readings();
  /** The last state. */
  #last: Prepared | undefined;
  #country: { readonly id: number; readonly data: CountryData } | undefined;

  prepare({ documents, country, at }: StateParts): Prepared {
    if (country && this.#country?.id !== country.id)
      this.#country = { id: country.id, data: compileCountryFile(country.packed) };
    const countryData = country && this.#country?.data;
    const { workspace } = linkFiles(this.readings.readAll(documents));
    this.#last = prepare(workspace, { countryData, at: at.getTime(), previous: this.#last });
    return this.#last;
  }
}
