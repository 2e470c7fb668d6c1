import type { Clients } from './addresses.js';
import type { ChunkFacts } from './chunk-facts.js';

/** Rows of a chunk that one policy judges together. The kinds are those of its rows. */
export interface Block extends ChunkFacts {
  /** The rows of the chunk, in order. */
  readonly rows: Uint32Array;
  /** The clients of the rows, as the policy resolves them. */
  readonly clients: Clients;
}
