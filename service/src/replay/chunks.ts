import { type ColumnTable, takeRows } from '@jade-fence/core/column';
import {
  clientsMayHold,
  type LogFilter,
  logMayHold,
  onlyPath,
  pathsMayHold,
  type RequestFilter,
  Verdicts,
  verdictsMayHold,
} from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { readBytes } from '../database/read-bytes.js';
import { unpackTable, unpackTableAside } from '../log/packing.js';
import { chunkBytes } from '../log/store.js';
import { type Replay, ReplayChunk } from '../model/replay.js';
import { LogChunk, RequestLog } from '../model/request-log.js';

/** One chunk of a replay, and the place of its requests. */
export interface PlacedChunk {
  readonly number: number;
  readonly logId: number;
  readonly log: string;
  readonly logChunk: number;
  readonly rows: number;
  /** How many requests of the replay come before it. */
  readonly before: number;
}

/** The chunks of a replay that have requests, in order. */
export async function placedChunks(knex: Knex, replay: Replay): Promise<PlacedChunk[]> {
  const chunks = await ReplayChunk.query(knex)
    .where({ replayId: replay.id })
    .select('number', 'logId', 'logChunk', 'rows')
    .orderBy('number');
  const logs = await RequestLog.query(knex).whereIn('id', replay.logIds).select('id', 'name');
  const names = new Map(logs.map(({ id, name }) => [id, name]));
  let before = 0;
  const placed = chunks.map(({ number, logId, logChunk, rows }): PlacedChunk => {
    const own = { number, logId, log: names.get(logId) ?? '', logChunk, rows, before };
    before += rows;
    return own;
  });
  return placed.filter(({ rows }) => rows > 0);
}

/** The chunks that may have requests that the filter selects; the others need not be opened. */
export async function chunksFor(
  knex: Knex,
  replay: Replay,
  chunks: readonly PlacedChunk[],
  filter: RequestFilter,
): Promise<PlacedChunk[]> {
  const byVerdict = await ReplayChunk.query(knex).where({ replayId: replay.id }).select('number', 'summary');
  const summaries = new Map(byVerdict.map(({ number, summary }) => [number, summary]));
  const ofLogs = await LogChunk.query(knex)
    .whereIn('logId', replay.logIds)
    .select('logId', 'number', 'summary', 'firstTime', 'lastTime', 'timesKept');
  const logs = new Map(ofLogs.map((each) => [`${each.logId} ${each.number}`, each]));
  const may = chunks.filter(({ number, logId, logChunk }) => {
    const summary = summaries.get(number);
    if (summary && !verdictsMayHold(summary, replay.slots, filter)) return false;
    const log = logs.get(`${logId} ${logChunk}`);
    return log === undefined || (mayHoldTimes(log, filter) && (!log.summary || logMayHold(log.summary, filter)));
  });
  const withPath = await withPaths(knex, replay, may, filter);
  return filter.client === undefined ? withPath : withClients(knex, replay, withPath, filter);
}

async function withPaths(
  knex: Knex,
  { logIds }: Replay,
  chunks: PlacedChunk[],
  filter: RequestFilter,
): Promise<PlacedChunk[]> {
  if (filter.path === undefined || onlyPath(filter.path) === undefined) return chunks;
  const blooms = await LogChunk.query(knex).whereIn('logId', logIds).select('logId', 'number', 'paths');
  const mayNot = new Set(
    blooms
      .filter(({ paths }) => paths && !pathsMayHold(paths, filter))
      .map(({ logId, number }) => `${logId} ${number}`),
  );
  return chunks.filter(({ logId, logChunk }) => !mayNot.has(`${logId} ${logChunk}`));
}

/** Whether the chunk may have requests of the span that the filter selects. */
export function mayHoldTimes(
  { firstTime, lastTime, timesKept }: LogChunk,
  { from, to }: Pick<LogFilter, 'from' | 'to'>,
) {
  if ((from === undefined && to === undefined) || !timesKept) return true;
  return firstTime !== null && lastTime !== null && firstTime < (to ?? Infinity) && lastTime >= (from ?? -Infinity);
}

async function withClients(
  knex: Knex,
  { id }: Replay,
  chunks: readonly PlacedChunk[],
  filter: RequestFilter,
): Promise<PlacedChunk[]> {
  const numbers = chunks.map(({ number }) => number);
  const blooms = await ReplayChunk.query(knex)
    .where({ replayId: id })
    .whereIn('number', numbers)
    .select('number', 'four', 'six');
  const mayNot = new Set(
    blooms.filter(({ four, six }) => four && six && !clientsMayHold({ four, six }, filter)).map(({ number }) => number),
  );
  return chunks.filter(({ number }) => !mayNot.has(number));
}

/** The chunks with requests behind the one of the number, which counts from 1. */
export const chunksBehind = (chunks: readonly PlacedChunk[], after: number): PlacedChunk[] =>
  chunks.filter(({ before, rows }) => before + rows > after);

/** The verdicts of a chunk. */
export async function verdictsOf(knex: Knex, replay: Replay, { number }: PlacedChunk): Promise<Verdicts> {
  const query = ReplayChunk.query(knex).findById([replay.id, number]).select('data').toKnexQuery();
  const bytes = await readBytes(knex, query);
  if (bytes === undefined) throw new Error(`chunk ${number} of replay ${replay.id} is missing`);
  return new Verdicts(unpackTable(bytes));
}

/** A chunk of a replay, read. */
export interface ReadChunk {
  readonly chunk: PlacedChunk;
  readonly verdicts: Verdicts;
  /** Its requests, row for row as the verdicts have them. */
  readonly table: ColumnTable;
  /** Unpacks all that the log holds of it beside other work; without that columns are when they are looked at. */
  readonly unpacked: () => Promise<void>;
}

/** A chunk of a replay with its verdicts; its requests may still be unpacking. */
export async function readChunk(knex: Knex, replay: Replay, chunk: PlacedChunk): Promise<ReadChunk> {
  const [verdicts, bytes] = await Promise.all([
    verdictsOf(knex, replay, chunk),
    chunkBytes(knex, chunk.logId, chunk.logChunk),
  ]);
  const { table, unpacked } = unpackTableAside(bytes);
  // Taking some rows looks at all columns.
  if (verdicts.logRows) await unpacked();
  return { chunk, verdicts, table: judgedRows(table, verdicts), unpacked };
}

/** What the log holds for a chunk of a replay. */
export const logTable = async (knex: Knex, { logId, logChunk }: PlacedChunk): Promise<ColumnTable> =>
  unpackTable(await chunkBytes(knex, logId, logChunk));

/** Of what the log holds for a chunk, the requests that were judged. */
export const judgedRows = (table: ColumnTable, { logRows }: Verdicts): ColumnTable =>
  logRows ? takeRows(table, logRows) : table;

/** This many chunks are opened ahead of the one that is searched. */
const AHEAD = 2;

/**
 * Opens chunks in order. Who wants no more after the first has opened no more; from the second on the next ones are
 * opened while one is looked through.
 */
export async function* opened<T>(
  chunks: readonly PlacedChunk[],
  open: (chunk: PlacedChunk) => Promise<T>,
): AsyncGenerator<T> {
  const begun: Promise<T>[] = [];
  let next = 0;
  const begin = (upTo: number) => {
    for (; next < Math.min(upTo, chunks.length); next++) {
      const one = open(chunks[next] as PlacedChunk);
      // Who stops before it does not wait for it, whatever becomes of it.
      one.catch(() => undefined);
      begun.push(one);
    }
  };
  for (let at = 0; at < chunks.length; at++) {
    begin(at === 0 ? 1 : at + 1 + AHEAD);
    yield await (begun.shift() as Promise<T>);
  }
}
