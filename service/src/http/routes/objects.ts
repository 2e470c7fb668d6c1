import type { ObjectBody, UsersBody, VersionBody } from '@jade-fence/contract';
import { DOCUMENT_KINDS, type DocumentKind } from '@jade-fence/core/text';
import { usersOfObject } from '@jade-fence/core/workspace';
import type { Request } from 'express';
import type { Knex } from 'knex';
import { pageOfItems } from '../../database/page.js';
import { notFound } from '../../fault/not-found.js';
import { refusal } from '../../fault/refusal.js';
import { Revision } from '../../model/revision.js';
import { type StoredDocument, type WrittenDocument } from '../../workspace/document.js';
import { type Expected, findObject, putObject, removeObject } from '../../workspace/objects.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import { currentDocuments, documentAt, versionsOf } from '../../workspace/store.js';
import { textOfVersion, written } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { ObjectInput } from '../input/object-input.js';
import { NamedPageQuery, PageQuery } from '../input/page-query.js';
import { numberOf } from '../number-of.js';

/** The objects of the draft one by one, with their versions. A change names the version that it was made for. */
export function objectRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.add(
    'GET /objects',
    { does: 'The objects of the draft by kind and name, with their texts.', query: NamedPageQuery },
    async ({ query }, response) => {
      const all = [...(await currentDocuments(knex))].sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1));
      const { items, next } = pageOfItems(all, keyOf, (key, after) => key > after, query);
      response.json({ objects: (await written(knex, items)).map(objectBody), next });
    },
  );

  api.add('GET /objects/:kind/:name', { does: 'One object of the draft.' }, async ({ params }, response) => {
    const found = await findObject(knex, kindOf(params.kind), params.name);
    response.set('etag', tagOf(found)).json(await storedObject(knex, found));
  });

  api.add(
    'GET /objects/:kind/:name/users',
    { does: 'The rules, applications and checks of the draft that name an object.' },
    async ({ params }, response) => {
      const { kind, name } = await findObject(knex, kindOf(params.kind), params.name);
      const { workspace } = await states.get(await currentState(knex, ANY_INSTANT));
      response.json({ users: usersOfObject(workspace, kind, name) } satisfies UsersBody);
    },
  );

  api.add(
    'PUT /objects/:kind/:name',
    {
      does: 'Gives an object of the draft a new text. `If-Match` names the version that it was made for, or `If-None-Match: *` says that it is new.',
      body: ObjectInput,
      largest: '128mb',
    },
    async ({ request, params, body, who }, response) => {
      const kind = kindOf(params.kind);
      const change = { kind, name: params.name, expected: expectedOf(request), by: who.name };
      const stored = await putObject(knex, states.readings, change, body.text);
      response.set('etag', tagOf(stored)).json(await storedObject(knex, stored));
    },
  );

  api.add(
    'DELETE /objects/:kind/:name',
    { does: 'Removes an object from the draft, at the version that `If-Match` names.', status: 204 },
    async ({ request, params, who }, response) => {
      const kind = kindOf(params.kind);
      await removeObject(knex, states.readings, {
        kind,
        name: params.name,
        expected: expectedOf(request),
        by: who.name,
      });
      response.status(204).end();
    },
  );

  api.add(
    'GET /objects/:kind/:name/versions/:number',
    { does: 'An object as it was in one of its states.' },
    async ({ params }, response) => {
      const kind = kindOf(params.kind);
      const found = await documentAt(knex, kind, params.name, numberOf(params.number, 'version'));
      if (!found) throw refusal('unknown-version/object', { kind, name: params.name, number: params.number });
      response.json(await storedObject(knex, found));
    },
  );

  api.add(
    'GET /objects/:kind/:name/versions',
    { does: 'The states that an object had, the newest first.', query: PageQuery },
    async ({ params, query }, response) => {
      const kind = kindOf(params.kind);
      const versions = await versionsOf(knex, kind, params.name);
      if (versions.length === 0) throw notFound(kind, params.name, [], 'Nothing of that name was ever there.');
      const revisions = await Revision.query(knex).select('number', 'versionIds').orderBy('number');
      const having = (version: number) => revisions.filter(({ versionIds }) => versionIds.includes(version));
      const { items, next } = pageOfItems(versions, numberOfVersion, (number, after) => number < after, query);
      response.json({
        versions: items.map(
          ({ versionId, number: version, author, changedAt }): VersionBody => ({
            version,
            changedBy: author,
            changedAt: changedAt.toISOString(),
            revisions: having(versionId).map(({ number }) => number),
          }),
        ),
        next,
      });
    },
  );
}

const keyOf = ({ kind, name }: StoredDocument): string => `${kind}/${name}`;
const numberOfVersion = ({ number }: StoredDocument): number => number;

function kindOf(text: string): DocumentKind {
  const kind = DOCUMENT_KINDS.find((known) => known === text);
  if (kind) return kind;
  throw notFound('kind-of-object', text, DOCUMENT_KINDS, `It is one of ${DOCUMENT_KINDS.join(', ')}.`);
}

const tagOf = ({ number }: StoredDocument): string => `"${number}"`;

/** The state that a change was made for (RFC 9110, section 13.1); required, so that nobody overwrites another's change. */
function expectedOf(request: Request): Expected {
  if (request.get('if-none-match') === '*') return 'absent';
  const version = /^"(\d{1,9})"$/.exec(request.get('if-match') ?? '')?.[1];
  if (version !== undefined) return { version: Number(version) };
  throw refusal('version-needed');
}

/** One object with its text. */
export const storedObject = async (knex: Knex, stored: StoredDocument): Promise<ObjectBody> =>
  objectBody({ ...stored, text: await textOfVersion(knex, stored.versionId) });

/** An object with its text as answers have it. */
export function objectBody({ kind, name, file, text, number, author, changedAt }: WrittenDocument): ObjectBody {
  return { kind, name, file, text, version: number, changedBy: author, changedAt: changedAt.toISOString() };
}
