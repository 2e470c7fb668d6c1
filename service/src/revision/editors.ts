import type { Knex } from 'knex';
import { editorsSince } from '../audit/audit.js';
import { Revision } from '../model/revision.js';
import { keyOf } from '../workspace/document.js';
import { documentsOf } from '../workspace/store.js';
import type { Chosen } from './chosen.js';
import { publishedRevision } from './store.js';

/**
 * Who has edited what is to be published, and so does not approve it: of chosen objects, who edited one of them since the
 * state of it that is in force was first published; of all of the draft, who edited anything since all of it was published.
 * Passcodes count in any case.
 */
export async function editorsOf(knex: Knex, only: readonly Chosen[] | null): Promise<ReadonlySet<string>> {
  const whole = await Revision.query(knex).where({ partial: false }).orderBy('number', 'desc').first();
  const since = whole?.publishedAt;
  if (only === null) return new Set(await editorsSince(knex, { since }));
  const published = await publishedRevision(knex);
  const inForce = new Map(
    (await documentsOf(knex, published?.versionIds ?? [])).map((document) => [keyOf(document), document.versionId]),
  );
  const editors = [...(await editorsSince(knex, { since, action: 'passcode-set' }))];
  for (const of of only)
    editors.push(...(await editorsSince(knex, { since: await firstPublished(knex, inForce.get(keyOf(of))), of })));
  return new Set(editors);
}

/** When a version was first published; undefined for none. */
async function firstPublished(knex: Knex, versionId: number | undefined): Promise<Date | undefined> {
  if (versionId === undefined) return undefined;
  const first = await Revision.query(knex)
    .whereRaw('version_ids @> ?::jsonb', [JSON.stringify([versionId])])
    .orderBy('number')
    .first();
  return first?.publishedAt;
}
