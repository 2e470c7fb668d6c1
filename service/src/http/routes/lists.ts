import type { EntriesPage, EntryBody, ListBody, ListSummary } from '@jade-fence/contract';
import { addressesCovered, endingEntries, isAlive, type List, overlapOf } from '@jade-fence/core/list';
import { usersOfList, type Workspace } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { notFound } from '../../fault/not-found.js';
import { refusal } from '../../fault/refusal.js';
import { editEntries, importEntries } from '../../workspace/entries.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import { currentDocument } from '../../workspace/store.js';
import { textOfVersion } from '../../workspace/texts.js';
import type { Api } from '../api.js';
import { EntriesInput, EntriesQuery, ImportEntriesQuery, ListQuery, OverlapQuery } from '../input/list-input.js';
import { instantOf } from '../instant.js';

/** Lists, and their entries one by one. */
export function listRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  const workspace = async () => (await states.get(await currentState(knex, ANY_INSTANT))).workspace;

  const one = { does: 'One list, and who uses it.', query: ListQuery } as const;
  api.add('GET /lists/:name', one, async ({ params, query }, response) => {
    const whole = await workspace();
    const list = listOf(whole, params.name);
    const stored = await currentDocument(knex, 'list', list.name);
    if (!stored) throw new Error(`list ${list.name} went away`);
    const { versionId, number, author, changedAt } = stored;
    const text = !query.text ? '' : await textOfVersion(knex, versionId);
    response.json({
      ...listSummary(list, whole),
      ...{ text, version: number, changedBy: author, changedAt: changedAt.toISOString() },
      users: usersOfList(whole, list.name),
      addresses: addressesCovered(list)?.toString() ?? null,
    } satisfies ListBody);
  });

  api.add(
    'GET /lists/:name/entries',
    { does: 'A page of the entries of a list, or of those that a text is in.', query: EntriesQuery },
    async ({ params, query }, response) => {
      const { entries } = listOf(await workspace(), params.name);
      const now = Date.now();
      const wanted = query.search?.toLowerCase();
      const found: EntryBody[] = [];
      for (let at = query.after ?? 0; at < entries.length && found.length <= query.limit; at++) {
        const { text, note, until } = entries[at] as List['entries'][number];
        const shown = { number: at + 1, entry: text, note: note ?? null };
        if (wanted !== undefined && !`${text} ${note ?? ''}`.toLowerCase().includes(wanted)) continue;
        const ends = until === undefined ? null : new Date(until).toISOString();
        found.push({ ...shown, until: ends, expired: until !== undefined && until <= now });
      }
      const page = found.slice(0, query.limit);
      const next = found.length > query.limit ? (page.at(-1)?.number ?? null) : null;
      response.json({ entries: page, next } satisfies EntriesPage);
    },
  );

  api.add(
    'PATCH /lists/:name/entries',
    {
      does: 'Adds entries to a list of the draft, and removes some.',
      body: EntriesInput,
      largest: '1mb',
    },
    async ({ params, body, who }, response) => {
      const add = body.add.map(({ until, ...entry }) => ({
        ...entry,
        ...(until !== undefined && { until: instantOf(until).toISOString() }),
      }));
      const edit = { name: params.name, add, remove: body.remove, by: who.name };
      response.json(await editEntries(knex, states.readings, edit));
    },
  );

  api.add(
    'PUT /lists/:name/entries',
    {
      does: 'Makes a list of the draft of a file with one entry a line, in place of what it held.',
      query: ImportEntriesQuery,
      file: '64mb',
    },
    async ({ params, query, file, who }, response) => {
      const order = { name: params.name, of: query.of, skip: query.skip, by: who.name, lines: textOf(file) };
      response.json(await importEntries(knex, states.readings, order));
    },
  );

  api.add(
    'GET /lists/:name/overlap',
    { does: 'What of a list says the same twice, or the same as another list.', query: OverlapQuery },
    async ({ params, query }, response) => {
      const whole = await workspace();
      const list = listOf(whole, params.name);
      const other = query.with === undefined ? undefined : listOf(whole, query.with);
      if (other && other.of !== list.of)
        throw refusal('other-sort', { list: list.name, sort: list.of, other: other.name, otherSort: other.of });
      response.json({ list: list.name, with: other?.name ?? null, ...overlapOf(list, other) });
    },
  );
}

function listOf({ lists }: Workspace, name: string): List {
  const list = lists.get(name);
  if (list) return list;
  throw notFound('list', name, [...lists.keys()], 'Apply a workspace with that list first.');
}

function textOf(file: Buffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(file);
  } catch {
    throw refusal('not-utf-8');
  }
}

/** A list in short, with the policies that use it. */
export function listSummary(list: List, workspace: Workspace): ListSummary {
  const expired = endingEntries(list).filter((entry) => !isAlive(entry, Date.now())).length;
  return {
    list: list.name,
    of: list.of,
    entries: list.entries.length,
    expired,
    include: list.include.map(({ name }) => name),
    usedBy: [...new Set(usersOfList(workspace, list.name).map(({ policy }) => policy))],
  };
}
