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

/** The state before the first publish. */
const NOTHING: Point = { label: 'nothing', documents: [], countryDataId: null };

/** Reads `draft`, `published`, `nothing`, or the number of a revision. */
export async function pointOf(knex: Knex, text: string): Promise<Point> {
  if (text === 'draft') {
    const country = await countryDataInForce(knex);
    return { label: 'draft', documents: await currentDocuments(knex), countryDataId: country?.id ?? null };
  }
  if (text === 'nothing') return NOTHING;
  const revision = text === 'published' ? await publishedRevision(knex) : await findRevision(knex, Number(text));
  if (!revision) return NOTHING;
  const { number, versionIds, countryDataId } = revision;
  return { label: `revision ${number}`, documents: await documentsOf(knex, versionIds), countryDataId };
}
