import type { Mapping } from '@jade-fence/core/log';
import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { notFound } from '../fault/not-found.js';
import { SavedMapping } from '../model/saved-mapping.js';

/** By name. */
export function pageOfMappings(knex: Knex, page: PageAsked<string>): Promise<Page<SavedMapping, string>> {
  return pageOf(SavedMapping.query(knex), 'name', 'asc', page);
}

/** The mapping of a name. Refuses with `unknown-mapping`. */
export async function findMapping(knex: Knex, name: string): Promise<SavedMapping> {
  const found = await SavedMapping.query(knex).findById(name);
  if (found) return found;
  const known = (await SavedMapping.query(knex).select('name').orderBy('name')).map((each) => each.name);
  const remedy = known.length === 0 ? 'No mapping has been saved yet.' : `Saved mappings: ${known.join(', ')}.`;
  throw notFound('mapping', name, known, remedy);
}

/** Keeps a mapping by the name, in place of one that had it. */
export async function saveMapping(
  knex: Knex,
  name: string,
  { columns, zone, pattern }: Mapping,
): Promise<SavedMapping> {
  const mapping = { name, columns, zone: zone ?? null, pattern: pattern ?? null };
  await SavedMapping.query(knex).insert(mapping).onConflict('name').merge();
  return findMapping(knex, name);
}

/** Deletes a mapping. Refuses with `unknown-mapping`. */
export async function deleteMapping(knex: Knex, name: string): Promise<void> {
  await findMapping(knex, name);
  await SavedMapping.query(knex).deleteById(name);
}

/** The mapping given with an import; a saved mapping fills in the rest. */
export async function mappingWithSaved(knex: Knex, shown: Mapping, saved: string | undefined): Promise<Mapping> {
  if (saved === undefined) return shown;
  const { columns, zone, pattern } = await findMapping(knex, saved);
  return {
    columns: { ...columns, ...shown.columns },
    zone: shown.zone ?? zone ?? undefined,
    pattern: shown.pattern ?? pattern ?? undefined,
  };
}
