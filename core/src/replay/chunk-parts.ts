import type { ChunkFacts } from '../engine/index.js';
import type { ChunkClients } from './clients.js';

/** The requests of a chunk that are judged, and what is found of them once for all policies. */
export interface ChunkParts extends ChunkFacts {
  readonly clients: ChunkClients;
  /** The rows of the log's chunk that the table has; undefined where it has all. */
  readonly logRows: Uint32Array | undefined;
}
