import type { Mapping } from '@jade-fence/core';
import type { Knex } from 'knex';
import { notFound } from '../fault/not-found.js';
import { SavedMapping } from '../model/saved-mapping.js';

export async function allMappings(knex: Knex): Promise<SavedMapping[]> {
  return SavedMapping.query(knex).orderBy('name');
}

export async function findMapping(knex: Knex, name: string): Promise<SavedMapping> {
  const found = await SavedMapping.query(knex).findById(name);
  if (found) return found;
  const known = (await allMappings(knex)).map((each) => each.name);
  const remedy = known.length === 0 ? 'No mapping has been saved yet.' : `Saved mappings: ${known.join(', ')}.`;
  throw notFound('mapping', name, known, remedy);
}

/** Keeps a mapping by the name, in place of one that had it. */
export async function saveMapping(knex: Knex, name: string, { columns, zone }: Mapping): Promise<SavedMapping> {
  const mapping = { name, columns, zone: zone ?? null };
  await SavedMapping.query(knex).insert(mapping).onConflict('name').merge();
  return findMapping(knex, name);
}

export async function deleteMapping(knex: Knex, name: string): Promise<void> {
  await findMapping(knex, name);
  await SavedMapping.query(knex).deleteById(name);
}

/** What is told with an import, and behind it what a saved mapping tells. */
export async function mappingWithSaved(knex: Knex, told: Mapping, saved: string | undefined): Promise<Mapping> {
  if (saved === undefined) return told;
  const { columns, zone } = await findMapping(knex, saved);
  return { columns: { ...columns, ...told.columns }, zone: told.zone ?? zone ?? undefined };
}
