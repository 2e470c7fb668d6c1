import { type CountryData, linkFiles, type Prepared, prepare, type ReadFiles, readFiles } from '@jade-fence/core';
import type { Knex } from 'knex';
import { compiledCountryData, countryDataInForce } from '../country/store.js';
import { asFile, currentDocuments, documentsOf, type StoredDocument } from './store.js';

/** Which state of the workspace to judge by: object versions, country data, and the instant for expiry. */
export interface WorkspaceState {
  readonly versionIds: readonly number[];
  readonly countryDataId: number | undefined;
  readonly at: Date;
}

/** The state of the workspace as it stands. */
export async function currentState(knex: Knex, at: Date): Promise<WorkspaceState> {
  const documents = await currentDocuments(knex);
  const country = await countryDataInForce(knex);
  return { versionIds: documents.map((document) => document.versionId), countryDataId: country?.id, at };
}

const MOST_KEPT = 4;

/** Prepares states of the workspace for judging, and keeps the last few. */
export class PreparedStates {
  readonly #knex: Knex;
  readonly #kept = new Map<string, Promise<Prepared>>();
  /** The versions of the last state, read; and the state itself: what the next has in common with it is not made again. */
  #readings = new Map<number, ReadFiles>();
  #last: Prepared | undefined;
  #country: { readonly id: number; readonly data: Promise<CountryData> } | undefined;

  constructor(knex: Knex) {
    this.#knex = knex;
  }

  get(state: WorkspaceState): Promise<Prepared> {
    const key = JSON.stringify([state.versionIds, state.countryDataId, state.at.getTime()]);
    const known = this.#kept.get(key) ?? this.#prepare(state);
    this.#kept.delete(key);
    this.#kept.set(key, known);
    known.catch(() => this.#kept.delete(key));
    for (const old of [...this.#kept.keys()].slice(0, -MOST_KEPT)) this.#kept.delete(old);
    return known;
  }

  async #prepare({ versionIds, countryDataId, at }: WorkspaceState): Promise<Prepared> {
    const documents: StoredDocument[] = await documentsOf(this.#knex, versionIds);
    const countryData = countryDataId === undefined ? undefined : await this.#countryData(countryDataId);
    const { workspace } = linkFiles(this.#readAll(documents));
    this.#last = prepare(workspace, { countryData, at: at.getTime(), previous: this.#last });
    return this.#last;
  }

  /** Reads the documents, less those whose version was read for the state before. */
  #readAll(documents: readonly StoredDocument[]): ReadFiles[] {
    const before = this.#readings;
    this.#readings = new Map(
      documents.map((document) => [
        document.versionId,
        before.get(document.versionId) ?? readFiles([asFile(document)]),
      ]),
    );
    return [...this.#readings.values()];
  }

  #countryData(id: number): Promise<CountryData> {
    if (this.#country?.id !== id) this.#country = { id, data: compiledCountryData(this.#knex, id) };
    return this.#country.data;
  }
}
