import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { readBytes } from '../database/read-bytes.js';
import { sweep } from '../database/sweep.js';
import { notFound } from '../fault/not-found.js';
import { Replay } from '../model/replay.js';
import { LogChunk, RejectedLine, RequestLog } from '../model/request-log.js';

/** By name. */
export function pageOfLogs(knex: Knex, page: PageAsked<string>): Promise<Page<RequestLog, string>> {
  return pageOf(RequestLog.query(knex), 'name', 'asc', page);
}

/** The log of a name. Refuses with `unknown-log`. */
export async function findLog(knex: Knex, name: string): Promise<RequestLog> {
  const log = await RequestLog.query(knex).findOne({ name });
  if (log) return log;
  const known = (await RequestLog.query(knex).select('name')).map((each) => each.name);
  throw notFound(
    'log',
    name,
    known,
    known.length === 0 ? 'No log has been imported yet.' : `Known logs: ${known.join(', ')}.`,
  );
}

/** Other logs with the same content. */
export async function sameContent(knex: Knex, log: RequestLog): Promise<string[]> {
  const same = await RequestLog.query(knex)
    .where({ contentHash: log.contentHash })
    .whereNot({ id: log.id })
    .select('name');
  return same.map((each) => each.name);
}

/** In the order of their lines. */
export function rejectedLines(
  knex: Knex,
  log: RequestLog,
  page: PageAsked<number>,
): Promise<Page<RejectedLine, number>> {
  return pageOf(RejectedLine.query(knex).where({ logId: log.id }), 'line', 'asc', page);
}

/** Deletes the log with its chunks, rejected lines and replays. */
export async function deleteLog(knex: Knex, log: RequestLog, by: string): Promise<void> {
  await knex.transaction(async (trx) => {
    await Replay.query(trx)
      .whereRaw('log_ids @> ?', [String(log.id)])
      .delete();
    await RequestLog.query(trx).deleteById(log.id);
    await note(trx, [{ actor: by, action: 'log-deleted', kind: 'log', name: log.name }]);
  });
  await sweep(knex);
}

/** A chunk of a log as it is stored. */
export async function chunkBytes(knex: Knex, logId: number, number: number): Promise<Buffer> {
  const bytes = await readBytes(knex, LogChunk.query(knex).findById([logId, number]).select('data').toKnexQuery());
  if (bytes === undefined) throw new Error(`chunk ${number} of log ${logId} is missing`);
  return bytes;
}
