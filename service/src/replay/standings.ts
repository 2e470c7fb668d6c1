import { setImmediate as breathe } from 'node:timers/promises';
import {
  type Counted,
  countedUnder,
  keyTexts,
  type Prepared,
  type Standing,
  standingOf,
  subjectOf,
} from '@jade-fence/core/engine';
import type { Limit } from '@jade-fence/core/limit';
import { ChunkRows } from '@jade-fence/core/log';
import type { Policy, Rule } from '@jade-fence/core/policy';
import { filterRows, keptLimits, type RequestFilter, type Verdicts } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import type { Replay } from '../model/replay.js';
import { chunksFor, opened, placedChunks, readChunk } from './chunks.js';

/** A key with more requests in its span is not counted anew for an explanation. */
const MOST_COUNTED = 20_000;
const ROWS_AT_ONCE = 512;

/** A request of a replay, by its number, with what it was judged by. */
export interface Explained {
  readonly replay: Replay;
  readonly policy: Policy;
  readonly prepared: Prepared;
  readonly number: number;
  readonly row: number;
  readonly requests: ChunkRows;
  readonly verdicts: Verdicts;
}

/**
 * The count of a replay's request under each limit of its policy that counted it, by the names of the rules: what was
 * counted under the same key before is counted again, since a replay keeps no counts. A limit with too many to count is
 * left out.
 */
export async function standingsOf(knex: Knex, explained: Explained): Promise<Map<string, Standing>> {
  const found = new Map<string, Standing>();
  for (const rule of explained.policy.rules) {
    if (rule.limit === undefined) continue;
    const own = countedRow(rule, explained, explained);
    const before = own && (await countedBefore(knex, explained, rule, rule.limit, own));
    if (before) found.set(rule.name, standingOf(rule.limit, [...before, own]));
  }
  return found;
}

interface Row {
  readonly row: number;
  readonly requests: ChunkRows;
  readonly verdicts: Verdicts;
}

function countedRow(
  rule: Rule,
  { row, requests, verdicts }: Row,
  { policy, prepared, replay }: Explained,
): Counted | undefined {
  const outcome = verdicts.outcome(row);
  if (outcome === undefined) return undefined;
  const subject = subjectOf(requests.request(row), policy, prepared);
  return countedUnder(rule, { policy, subject, prepared, limits: keptLimits(policy, outcome, replay.slots) });
}

/** What was counted under the key before the request, in the order of time; undefined where that is too much. */
async function countedBefore(
  knex: Knex,
  explained: Explained,
  rule: Rule,
  limit: Limit,
  own: Counted,
): Promise<Counted[] | undefined> {
  const { replay, number } = explained;
  const filter = filterFor(explained.policy, limit, own);
  const counted: (Counted & { readonly at: number })[] = [];
  let looked = 0;
  const open = async (chunk: Awaited<ReturnType<typeof placedChunks>>[number]) => {
    const { verdicts, table, unpacked } = await readChunk(knex, replay, chunk);
    await unpacked();
    const rows = filterRows({ verdicts, table, catalogue: undefined }, replay.slots, filter, 0, MOST_COUNTED + 1);
    return { chunk, verdicts, requests: new ChunkRows(table), rows };
  };
  for await (const { chunk, verdicts, requests, rows } of opened(
    await chunksFor(knex, replay, await placedChunks(knex, replay), filter),
    open,
  )) {
    looked += rows.length;
    if (looked > MOST_COUNTED) return undefined;
    for (const [index, row] of rows.entries()) {
      if (index % ROWS_AT_ONCE === 0) await breathe();
      const at = chunk.before + row + 1;
      const one = at === number ? undefined : countedRow(rule, { row, requests, verdicts }, explained);
      // Of the same instant only those that the log has before.
      if (one?.key === own.key && (one.time < own.time || at < number)) counted.push({ ...one, at });
    }
  }
  return counted.sort((a, b) => a.time - b.time || a.at - b.at);
}

/** Requests that may be counted under the key, as near as a filter can select. */
function filterFor({ name }: Policy, limit: Limit, { key, time }: Counted): RequestFilter {
  const texts = keyTexts(limit.per, key);
  const part = (field: string) => texts[limit.per.findIndex((each) => each.field === field)];
  const [client, method] = [part('client'), part('method')];
  return {
    policy: name,
    from: time - limit.within - limit.hold,
    to: time + 1,
    ...(client !== undefined && { client }),
    ...(method !== undefined && { method }),
  };
}
