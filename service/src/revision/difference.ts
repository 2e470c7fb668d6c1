import { differences, linkFiles, textDifference } from '@jade-fence/core';
import type { Knex } from 'knex';
import { countryDataSet } from '../country/store.js';
import type { DifferenceBody } from '../http/bodies.js';
import type { Readings } from '../workspace/readings.js';
import { keyOf } from '../workspace/store.js';
import type { Point } from './point.js';

/** What two states of the workspace do not have alike, in words and, where that is asked for, as text. */
export async function differenceOf(
  knex: Knex,
  readings: Readings,
  { before, after, lines }: { readonly before: Point; readonly after: Point; readonly lines: boolean },
): Promise<DifferenceBody> {
  const written = ({ documents }: Point) => ({
    workspace: linkFiles(readings.readAll(documents)).workspace,
    documents,
  });
  const texts = ({ documents }: Point) => new Map(documents.map((each) => [keyOf(each), each]));
  const [old, now] = [texts(before), texts(after)];
  const changes = differences(written(before), written(after)).map((difference) => {
    const [was, is] = [old.get(keyOf(difference)), now.get(keyOf(difference))];
    const file = `${difference.kind} ${difference.name}`;
    return {
      ...difference,
      text: lines ? textDifference(file, was?.text, is?.text) : null,
      by: is?.author ?? null,
      at: is?.changedAt.toISOString() ?? null,
    };
  });
  return { from: before.told, to: after.told, changes, countryData: await countryWords(knex, before, after) };
}

/** What is different of the country data; null where nothing is. */
async function countryWords(knex: Knex, before: Point, after: Point): Promise<string | null> {
  if (before.countryDataId === after.countryDataId) return null;
  const tell = async (id: number | null) => {
    const set = id === null ? undefined : await countryDataSet(knex, id);
    return set ? `that of ${set.date} from ${set.source}` : 'none';
  };
  return `The country data was ${await tell(before.countryDataId)}; it is ${await tell(after.countryDataId)}.`;
}
