import type { ColumnTable } from '../column/index.js';
import type { ChunkCounts } from './tally/chunk-counts.js';

/** The result of a chunk: its verdicts, and its counts for the report. Plain data. */
export interface FinishedChunk {
  readonly number: number;
  readonly verdicts: ColumnTable;
  readonly counts: ChunkCounts;
}
