import type { Knex } from 'knex';
import { Refusal } from '../fault/refusal.js';
import { Import } from '../model/import.js';

export async function findImport(knex: Knex, id: number): Promise<Import> {
  const found = await Import.query(knex).findById(id);
  if (found) return found;
  throw new Refusal('missing', 'unknown-import', `There is no import ${id}.`, {
    remedy: 'List the imports to see which there are. One that came to a log goes with that.',
  });
}

/** The newest imports first. */
export async function allImports(knex: Knex, limit: number): Promise<Import[]> {
  return Import.query(knex).orderBy('id', 'desc').limit(limit);
}
