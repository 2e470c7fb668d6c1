import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { refusal } from '../fault/refusal.js';
import { Revision } from '../model/revision.js';

/** What is in force; undefined where nothing was published yet. */
export async function publishedRevision(knex: Knex): Promise<Revision | undefined> {
  return Revision.query(knex).orderBy('number', 'desc').first();
}

/** The revision with the number. Refuses with `unknown-revision`. */
export async function findRevision(knex: Knex, number: number): Promise<Revision> {
  const found = await Revision.query(knex).findById(number);
  if (found) return found;
  const last = await publishedRevision(knex);
  throw refusal('unknown-revision', { number, last: last?.number });
}

/** The newest first. */
export function pageOfRevisions(knex: Knex, page: PageAsked<number>): Promise<Page<Revision, number>> {
  return pageOf(Revision.query(knex), 'number', 'desc', page);
}

/** The revision that is called `published` or by its number; undefined for `draft`. */
export async function revisionNamed(knex: Knex, name: string): Promise<Revision | undefined> {
  if (name === 'draft') return undefined;
  if (name !== 'published') return findRevision(knex, Number(name));
  const published = await publishedRevision(knex);
  if (published) return published;
  throw refusal('nothing-published');
}
