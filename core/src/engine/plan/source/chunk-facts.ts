import {
  ChunkTexts,
  type ColumnTable,
  NumbersById,
  type RowKinds,
  rowKinds,
  TextInterners,
} from '../../../column/index.js';
import { Kernel } from '../../../kernel/index.js';
import type { Resolutions } from '../../../resolution/index.js';
import { Destinations } from './destinations.js';

/** What is found of a chunk once, for all policies that judge rows of it. */
export interface ChunkFacts {
  readonly table: ColumnTable;
  /** The kinds of the rows. */
  readonly kinds: RowKinds;
  /** Where the rows of the chunk go, for policies that resolve destinations. */
  readonly destinations: Destinations;
  /** The ids of the chunk's texts. */
  readonly texts: ChunkTexts;
  /** The inner loops of the run. */
  readonly kernel: Kernel;
}

/** What a run by one state of the workspace remembers from chunk to chunk. */
export class RunMemory {
  /** The inner loops of the run. */
  readonly kernel = new Kernel();
  readonly texts = new TextInterners(this.kernel);
  /** The classes of hosts by their addresses. */
  readonly hosts = new NumbersById();
}

/** The facts of a chunk of a run. */
export function chunkFacts(table: ColumnTable, resolutions: Resolutions, memory = new RunMemory()): ChunkFacts {
  const texts = new ChunkTexts(table, memory.texts);
  const destinations = new Destinations(table, resolutions, { texts, known: memory.hosts });
  const { kernel } = memory;
  return { table, kinds: rowKinds(table, kernel), destinations, texts, kernel };
}
