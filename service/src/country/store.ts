import type { Knex } from 'knex';
import { CountryDataSet } from '../model/country-data-set.js';

/** The country data in force, without its bytes; undefined where none is loaded. */
export async function countryDataInForce(knex: Knex): Promise<CountryDataSet | undefined> {
  return selectSets(knex)
    .orderBy([
      { column: 'inForceAt', order: 'desc' },
      { column: 'id', order: 'desc' },
    ])
    .first();
}

/** A country data set by its number, without its bytes; undefined where it is gone. */
export async function countryDataSet(knex: Knex, id: number): Promise<CountryDataSet | undefined> {
  return selectSets(knex).findById(id);
}

function selectSets(knex: Knex) {
  const columns = ['id', 'source', 'networks', 'faults', 'faultCount', 'loadedAt'] as const;
  return CountryDataSet.query(knex).select(...columns, knex.raw("to_char(date, 'YYYY-MM-DD') as date"));
}

/** The file of a country data set, packed with gzip. */
export async function packedCountryData(knex: Knex, id: number): Promise<Uint8Array> {
  const { data } = await CountryDataSet.query(knex).findById(id).select('data').throwIfNotFound();
  return data;
}
