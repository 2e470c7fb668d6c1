import type { DifferenceBody } from '@jade-fence/contract';
import { differences, textDifference, type WrittenWorkspace } from '@jade-fence/core/difference';
import { linkFiles, type ReadFiles } from '@jade-fence/core/workspace';
import type { Knex } from 'knex';
import { countryDataSet } from '../country/store.js';
import { keyOf, type StoredDocument } from '../workspace/document.js';
import { LONG_LIST } from '../workspace/entries.js';
import type { Readings } from '../workspace/readings.js';
import { written } from '../workspace/texts.js';
import type { Point } from './point.js';

interface Order {
  readonly before: Point;
  readonly after: Point;
  /** Tell the lines that differ, too. */
  readonly lines: boolean;
}

/** The differences between two states of the workspace, in words and, on request, as text. */
export async function differenceOf(
  knex: Knex,
  readings: Readings,
  { before, after, lines }: Order,
): Promise<DifferenceBody> {
  const both = new Set(before.documents.map(({ versionId }) => versionId));
  const shared = new Set(after.documents.map(({ versionId }) => versionId).filter((id) => both.has(id)));
  const stateOf = (point: Point) => writtenState(knex, readings, { point, shared, lines });
  const [was, is] = [await stateOf(before), await stateOf(after)];
  const texts = ({ documents }: WrittenWorkspace) => new Map(documents.map((each) => [keyOf(each), each.text]));
  const [old, now] = [texts(was), texts(is)];
  const label = new Map(after.documents.map((document) => [keyOf(document), document]));
  const changes = differences(was, is).map((difference) => {
    const key = keyOf(difference);
    const textOf = (state: ReadonlyMap<string, string | null>) => state.get(key) ?? undefined;
    return {
      ...difference,
      text: lines ? textDifference(`${difference.kind} ${difference.name}`, textOf(old), textOf(now)) : null,
      by: label.get(key)?.author ?? null,
      at: label.get(key)?.changedAt.toISOString() ?? null,
    };
  });
  return { from: before.label, to: after.label, changes, countryData: await countryWords(knex, before, after) };
}

/** A state with those of its documents that the other does not have in the same version. */
async function writtenState(
  knex: Knex,
  readings: Readings,
  { point, shared, lines }: { readonly point: Point; readonly shared: ReadonlySet<number>; readonly lines: boolean },
): Promise<WrittenWorkspace> {
  const read = await readings.load(knex, point.documents);
  const own = point.documents.filter(({ versionId }) => !shared.has(versionId));
  const long = new Set(lines ? [] : read.filter(isLong).flatMap(({ documents }) => documents.map(keyOf)));
  const short = await written(
    knex,
    own.filter((document) => !long.has(keyOf(document))),
  );
  const others = own
    .filter((document) => long.has(keyOf(document)))
    .map((document: StoredDocument) => ({ ...document, text: null }));
  return { workspace: linkFiles(read).workspace, documents: [...short, ...others] };
}

const isLong = ({ objects }: ReadFiles): boolean =>
  objects.some(({ object }) => object.type === 'list' && object.entries.length >= LONG_LIST);

/** What is different of the country data; null where nothing is. */
async function countryWords(knex: Knex, before: Point, after: Point): Promise<string | null> {
  if (before.countryDataId === after.countryDataId) return null;
  const describe = async (id: number | null) => {
    const set = id === null ? undefined : await countryDataSet(knex, id);
    return set ? `that of ${set.date} from ${set.source}` : 'none';
  };
  return `The country data was ${await describe(before.countryDataId)}; it is ${await describe(after.countryDataId)}.`;
}
