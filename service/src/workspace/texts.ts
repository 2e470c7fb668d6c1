import { editList, type ListEdit, mergedEdit } from '@jade-fence/core/list';
import type { Knex } from 'knex';
import type { StoredDocument, WrittenDocument } from './document.js';

/** What a version is made of: the text of a version, its own or of the one that it was edited from, and the edits. */
export interface VersionParts {
  readonly root: number;
  /** Null where it is known already. */
  readonly text: string | null;
  /** In the order of their making. */
  readonly edits: readonly ListEdit[];
}

interface Link {
  readonly version: number;
  readonly id: number;
  readonly text: string | null;
  readonly edit: ListEdit | null;
}

/**
 * What versions are made of, by their numbers.
 * @param known versions that are known, whose texts are not fetched
 */
export async function partsOf(
  knex: Knex,
  versionIds: readonly number[],
  known: readonly number[] = [],
): Promise<Map<number, VersionParts>> {
  if (versionIds.length === 0) return new Map();
  const { rows } = await knex.raw<{ rows: Link[] }>(
    `with recursive chain as (
       select id as version, id, base_id, edit, 0 as depth from object_versions where id = any(:wanted)
       union all
       select chain.version, base.id, base.base_id, base.edit, depth + 1
       from chain join object_versions base on base.id = chain.base_id and not chain.id = any(:known)
     )
     select version, chain.id, chain.edit, case when chain.id = any(:known) then null else text end as text
     from chain join object_versions on object_versions.id = chain.id
     order by version, depth desc`,
    { wanted: versionIds, known },
  );
  const parts = new Map<number, { root: number; text: string | null; edits: ListEdit[] }>();
  for (const { version, id, text, edit } of rows) {
    const found = parts.get(version);
    if (found && edit) found.edits.push(edit);
    else parts.set(version, { root: id, text, edits: [] });
  }
  return parts;
}

/** The documents with their texts. */
export async function written(knex: Knex, documents: readonly StoredDocument[]): Promise<WrittenDocument[]> {
  const parts = await partsOf(
    knex,
    documents.map(({ versionId }) => versionId),
  );
  return documents.map((document) => ({ ...document, text: textOf(parts.get(document.versionId)) }));
}

/** The text of a version of an object, which must be there. */
export const textOfVersion = async (knex: Knex, versionId: number): Promise<string> =>
  textOf((await partsOf(knex, [versionId])).get(versionId));

function textOf(parts: VersionParts | undefined): string {
  if (parts?.text == null) throw new Error('a version went away');
  const { text, edits } = parts;
  if (edits.length === 0) return text;
  const { add, remove } = mergedEdit(edits);
  return editList(text, add, remove).text;
}
