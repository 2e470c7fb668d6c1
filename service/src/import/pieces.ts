import type { Knex } from 'knex';
import { compress, uncompress } from 'snappy';
import { readBytes } from '../database/read-bytes.js';
import { ImportPiece } from '../model/import.js';

/** Packed by less than this, a piece is not worth the packing: mostly it is of a file that is packed already. */
const WORTH_IT = 0.9;

/** Memory of the packer's own is not counted as ours, and would be freed far too late. */
const OWN_MEMORY = { copyOutputData: true };

/** A piece as it is kept, packed where that pays. */
export interface KeptPiece {
  readonly packed: boolean;
  readonly data: Buffer;
}

/** A piece of an upload as it is kept: compressed where that saves enough. */
export async function packPiece(piece: Buffer): Promise<KeptPiece> {
  const small = await compress(piece, OWN_MEMORY);
  return small.length < piece.length * WORTH_IT ? { packed: true, data: small } : { packed: false, data: piece };
}

/** The bytes of a piece that was kept. */
export async function unpackPiece({ packed, data }: KeptPiece): Promise<Buffer> {
  return packed ? ((await uncompress(data, OWN_MEMORY)) as Buffer) : data;
}

/** Where the pieces of one import are kept. */
export interface PieceStore {
  keep(number: number, piece: KeptPiece): Promise<void>;
  /** One that is kept, as it was sent. */
  fetch(number: number): Promise<Buffer>;
}

/** Where the pieces of one import are kept, in the database. */
export function pieceStore(knex: Knex, importId: number): PieceStore {
  return {
    keep: async (number, piece) => {
      await ImportPiece.query(knex).insert({ importId, number, ...piece });
    },
    fetch: (number) => keptPiece(knex, importId, number),
  };
}

async function keptPiece(knex: Knex, importId: number, number: number): Promise<Buffer> {
  const piece = () => ImportPiece.query(knex).findById([importId, number]);
  const bytes = readBytes(knex, piece().select('data').toKnexQuery());
  const [shown, data] = await Promise.all([piece().select('packed'), bytes]);
  if (shown === undefined || data === undefined) throw new Error(`piece ${number} of import ${importId} is missing`);
  return unpackPiece({ packed: shown.packed, data });
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

/** Deletes all pieces of an import. */
export async function dropPieces(knex: Knex, importId: number): Promise<void> {
  await ImportPiece.query(knex).where({ importId }).delete();
}
