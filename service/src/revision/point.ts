import type { Knex } from 'knex';
import { countryDataInForce } from '../country/store.js';
import { type StoredDocument } from '../workspace/document.js';
import { currentDocuments, documentsOf } from '../workspace/store.js';
import { findRevision, publishedRevision } from './store.js';

/** A state of the workspace that can be named: the draft, what is published, or a revision by its number. */
export interface Point {
  /** `draft`, `revision 3`, or `nothing`, before the first publish. */
  readonly label: string;
  readonly documents: readonly StoredDocument[];
  readonly countryDataId: number | null;
}

/** Reads `draft`, `published`, or the number of a revision. */
export async function pointOf(knex: Knex, text: string): Promise<Point> {
  if (text === 'draft') {
    const country = await countryDataInForce(knex);
    return { label: 'draft', documents: await currentDocuments(knex), countryDataId: country?.id ?? null };
  }
  const revision = text === 'published' ? await publishedRevision(knex) : await findRevision(knex, Number(text));
  if (!revision) return { label: 'nothing', documents: [], countryDataId: null };
  const { number, versionIds, countryDataId } = revision;
  return { label: `revision ${number}`, documents: await documentsOf(knex, versionIds), countryDataId };
}
