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
 * Reads the one `bytea` that the query selects, into memory of its own; undefined where it selects no row, or null. It
 * comes as it is stored: in the answer to a plain query bytes are text of twice their length, which two single threads
 * write and read.
 */
export async function readBytes(knex: Knex, query: Knex.QueryBuilder): Promise<Buffer | undefined> {
  const connection = (await knex.client.acquireConnection()) as pg.Client;
  try {
    const pieces: Buffer[] = [];
    const copied = connection.query(copyStreams.to(`COPY (${query.toQuery()}) TO STDOUT (FORMAT binary)`));
    for await (const piece of copied) pieces.push(piece);
    return valueIn(pieces);
  } finally {
    await knex.client.releaseConnection(connection);
  }
}

function valueIn(pieces: readonly Buffer[]): Buffer | undefined {
  const copied = concatenated(pieces);
  const row = FLAGS_END + LENGTH + copied.readUInt32BE(FLAGS_END);
  if (copied.readUInt16BE(row) === NO_ROW) return undefined;
  const length = copied.readUInt32BE(row + ROW_HEAD);
  const start = row + ROW_HEAD + LENGTH;
  return length === NULL ? undefined : copied.subarray(start, start + length);
}

/** In memory of its own, so that it can be moved to another thread. */
function concatenated(pieces: readonly Buffer[]): Buffer {
  const whole = Buffer.allocUnsafeSlow(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) at += piece.copy(whole, at);
  return whole;
}
