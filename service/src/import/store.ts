import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { refusal } from '../fault/refusal.js';
import { Import } from '../model/import.js';

/** The import with the number. Refuses with `unknown-import`. */
export async function findImport(knex: Knex, id: number): Promise<Import> {
  const found = await Import.query(knex).findById(id);
  if (found) return found;
  throw refusal('unknown-import', { id });
}

/** The newest imports first. */
export function pageOfImports(knex: Knex, page: PageAsked<number>): Promise<Page<Import, number>> {
  return pageOf(Import.query(knex), 'id', 'desc', page);
}
