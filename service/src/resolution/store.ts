import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { ResolutionLoad } from '../model/resolution-load.js';
import type { StoredLoads } from './states.js';

const SHOWN = ['id', 'kind', 'name', 'actor', 'anew', 'hosts', 'faults', 'faultCount', 'loadedAt'] as const;

/** The number of the newest load, which names the present state of the resolutions; undefined before the first. */
export async function newestResolutions(knex: Knex): Promise<number | undefined> {
  const newest = await ResolutionLoad.query(knex).max('id as id').first();
  return newest?.id ?? undefined;
}

/** The loads that people made, the newest first, without their answers. */
export function pageOfLoads(knex: Knex, page: PageAsked<number>): Promise<Page<ResolutionLoad, number>> {
  const loads = ResolutionLoad.query(knex)
    .whereNotIn('kind', ['live', 'folded'])
    .select(...SHOWN);
  return pageOf(loads, 'id', 'desc', page);
}

/** One load, without its answers; undefined where it is gone. */
export async function resolutionLoad(knex: Knex, id: number): Promise<ResolutionLoad | undefined> {
  return ResolutionLoad.query(knex)
    .select(...SHOWN)
    .findById(id);
}

/** The loads that a state is made of, the oldest first: from the last one that began anew. Without their answers. */
export async function loadsOf(knex: Knex, id: number): Promise<Pick<ResolutionLoad, 'id' | 'hosts'>[]> {
  const first = await ResolutionLoad.query(knex).where('id', '<=', id).where({ anew: true }).max('id as id').first();
  return ResolutionLoad.query(knex)
    .where('id', '<=', id)
    .where('id', '>=', first?.id ?? 0)
    .orderBy('id')
    .select('id', 'hosts');
}

/** The answers of loads as they are kept, in the order of the numbers. */
export async function packedLoads(knex: Knex, ids: readonly number[]): Promise<Uint8Array[]> {
  const loads = await ResolutionLoad.query(knex)
    .findByIds([...ids])
    .orderBy('id')
    .select('data');
  return loads.map(({ data }) => data);
}

/** The loads of the database, as states are made of them. */
export const storedLoads = (knex: Knex): StoredLoads => ({
  of: (id) => loadsOf(knex, id),
  packed: (ids) => packedLoads(knex, ids),
});
