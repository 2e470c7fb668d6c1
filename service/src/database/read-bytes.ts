import { buffer } from 'node:stream/consumers';
import type { Knex } from 'knex';
import type pg from 'pg';
import copyStreams from 'pg-copy-streams';

/*
 * What `COPY … TO STDOUT (FORMAT binary)` writes (PostgreSQL's documentation of COPY, "Binary Format"): 11 bytes of a
 * signature, u32 flags, u32 length of an extension, the extension; then for each row u16 fields, and for each field
 * u32 length, the bytes; and at the end a u16 of 0xffff for the fields of no row. All numbers are big-endian.
 */
const FLAGS_END = 15;
const ROW_HEAD = 2;
const LENGTH = 4;
const NO_ROW = 0xffff;
const NULL = 0xffffffff;

/**
 * Reads the one `bytea` that the query selects; undefined where it selects no row, or null. Comes as it is stored: in
 * the answer to a plain query bytes are text of twice their length, which two single threads write and read.
 */
export async function readBytes(knex: Knex, query: Knex.QueryBuilder): Promise<Buffer | undefined> {
  const connection = (await knex.client.acquireConnection()) as pg.Client;
  try {
    return valueIn(
      await buffer(connection.query(copyStreams.to(`COPY (${query.toQuery()}) TO STDOUT (FORMAT binary)`))),
    );
  } finally {
    await knex.client.releaseConnection(connection);
  }
}

function valueIn(copied: Buffer): Buffer | undefined {
  const row = FLAGS_END + LENGTH + copied.readUInt32BE(FLAGS_END);
  if (copied.readUInt16BE(row) === NO_ROW) return undefined;
  const length = copied.readUInt32BE(row + ROW_HEAD);
  const start = row + ROW_HEAD + LENGTH;
  return length === NULL ? undefined : copied.subarray(start, start + length);
}
