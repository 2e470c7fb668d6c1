import { type CountryData, linkFiles, type Prepared, prepare, type ReadFiles, readFiles } from '@jade-fence/core';
import { compileCountryFile } from '../country/compile.js';
import type { StateParts } from './state.js';
import { asFile } from './store.js';

/** Prepares states of the workspace for judging. What a state has in common with the one before it is not made again. */
export class Preparer {
  /** The versions of the last state, read; and the state itself. */
  #readings = new Map<number, ReadFiles>();
  #last: Prepared | undefined;
  #country: { readonly id: number; readonly data: CountryData } | undefined;

  prepare({ documents, country, at }: StateParts): Prepared {
    if (country && this.#country?.id !== country.id)
      this.#country = { id: country.id, data: compileCountryFile(country.packed) };
    const countryData = country && this.#country?.data;
    const { workspace } = linkFiles(this.#readAll(documents));
    this.#last = prepare(workspace, { countryData, at: at.getTime(), previous: this.#last });
    return this.#last;
  }

  /** Reads the documents, less those whose version was read for the state before. */
  #readAll(documents: StateParts['documents']): ReadFiles[] {
    const before = this.#readings;
    this.#readings = new Map();
    return documents.map((document) => {
      if (!('versionId' in document)) return readFiles([asFile(document)]);
      const { versionId } = document;
      const read = before.get(versionId) ?? readFiles([asFile(document)]);
      this.#readings.set(versionId, read);
      return read;
    });
  }
}
