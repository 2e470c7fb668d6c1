import type { ColumnTable } from '../column/index.js';
import type { ChunkCounts } from './tally/chunk-counts.js';

/** What was made of a chunk: its verdicts, and what it adds to the report. Plain data. */
export interface FinishedChunk {
  readonly number: number;
  readonly verdicts: ColumnTable;
  readonly counts: ChunkCounts;
}
