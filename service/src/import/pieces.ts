import type { Knex } from 'knex';
import { compress, uncompress } from 'snappy';
import { readBytes } from '../database/read-bytes.js';
import { ImportPiece } from '../model/import.js';

/** Packed by less than this, a piece is not worth the packing: mostly it is of a file that is packed already. */
const WORTH_IT = 0.9;

/** Keeps a piece of what is sent. */
export async function keepPiece(knex: Knex, importId: number, number: number, piece: Buffer): Promise<void> {
  const small = await compress(piece);
  const packed = small.length < piece.length * WORTH_IT;
  await ImportPiece.query(knex).insert({ importId, number, packed, data: packed ? small : piece });
}

/** A piece that is kept. */
export async function keptPiece(knex: Knex, importId: number, number: number): Promise<Buffer> {
  const piece = () => ImportPiece.query(knex).findById([importId, number]);
  const [packed, data] = await Promise.all([
    piece().select('packed'),
    readBytes(knex, piece().select('data').toKnexQuery()),
  ]);
  if (packed === undefined || data === undefined) throw new Error(`piece ${number} of import ${importId} is missing`);
  return packed.packed ? ((await uncompress(data)) as Buffer) : data;
}

/** All pieces that are kept, in order; each is fetched while the one before it is read. */
export async function* keptPieces(knex: Knex, importId: number, count: number): AsyncGenerator<Buffer> {
  const fetched = (number: number) => {
    const piece = number < count ? keptPiece(knex, importId, number) : undefined;
    // It is awaited in its turn, and must not count as unheeded until then.
    piece?.catch(() => undefined);
    return piece;
  };
  let next = fetched(0);
  for (let number = 1; next !== undefined; number++) {
    const piece = await next;
    next = fetched(number);
    yield piece;
  }
}

export async function dropPieces(knex: Knex, importId: number): Promise<void> {
  await ImportPiece.query(knex).where({ importId }).delete();
}
