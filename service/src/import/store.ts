import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { Refusal } from '../fault/refusal.js';
import { Import } from '../model/import.js';

/** The import with the number. Refuses with `unknown-import`. */
export async function findImport(knex: Knex, id: number): Promise<Import> {
  const found = await Import.query(knex).findById(id);
  if (found) return found;
  throw new Refusal('unknown-import', `There is no import ${id}.`, {
    remedy: 'List the imports to see which there are. One that came to a log goes with that.',
  });
}

/** The newest imports first. */
export function pageOfImports(knex: Knex, page: PageAsked<number>): Promise<Page<Import, number>> {
  return pageOf(Import.query(knex), 'id', 'desc', page);
}
