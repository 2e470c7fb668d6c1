import type { ColumnTable, RowKinds } from '../../../column/index.js';
import type { Clients } from './addresses.js';
import type { Destinations } from './destinations.js';

/** Rows of a chunk that one policy judges together. */
export interface Block {
  readonly table: ColumnTable;
  /** The rows of the chunk, in order. */
  readonly rows: Uint32Array;
  /** The clients of the rows, as the policy resolves them. */
  readonly clients: Clients;
  /** Where the rows of the chunk go, for policies that resolve destinations. */
  readonly destinations: Destinations;
  /** The kinds of the rows. */
  readonly kinds: RowKinds;
}
