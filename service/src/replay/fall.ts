import type { FallBody } from '@jade-fence/contract';
import { asksForRequest, Fall, filterRows, type RequestFilter } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import type { Replay } from '../model/replay.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { chunksFor, judgedRows, logTable, placedChunks, verdictsOf } from './chunks.js';
import { catalogueFor, checkNames, requireDone } from './requests.js';

/** How the requests that a filter selects pass through the rules of a replay. */
export async function fallOf(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
): Promise<Omit<FallBody, 'of'>> {
  requireDone(replay);
  checkNames(replay, filter);
  const catalogue = await catalogueFor(states, replay, filter);
  const fall = new Fall(replay.slots);
  for (const chunk of await chunksFor(knex, replay, await placedChunks(knex, replay), filter)) {
    const verdicts = await verdictsOf(knex, replay, chunk);
    const table = asksForRequest(filter) ? judgedRows(await logTable(knex, chunk), verdicts) : undefined;
    const rows = filterRows({ verdicts, table, catalogue }, replay.slots, filter, 0, Number.POSITIVE_INFINITY);
    const byCode = new Map<number, { readonly row: number; requests: number }>();
    for (const row of rows) {
      const code = verdicts.outcomeCode(row);
      const known = byCode.get(code);
      if (known) known.requests++;
      else byCode.set(code, { row, requests: 1 });
    }
    for (const { row, requests } of byCode.values()) fall.add(verdicts.outcome(row), requests);
  }
  return { replay: replay.id, requests: fall.requests, uncovered: fall.uncovered, policies: fall.policies() };
}
