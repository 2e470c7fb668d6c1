import { ChunkBuilder } from '../chunk/builder.js';
import type { LogFormat } from '../read/detect.js';
import { LogReader } from '../read/reader.js';
import type { LineBlock } from './line-blocks.js';
import { LONGEST_REJECTED_TEXT, type ReadPart, type Rejected } from './parts.js';

/** The formats whose lines each stand by themselves, so that blocks of them can be read apart. */
export const BLOCK_FORMATS = ['json-lines', 'combined'] as const satisfies readonly LogFormat[];
export type BlockFormat = (typeof BLOCK_FORMATS)[number];

/** Reads a block of lines, by itself. */
export function readBlock(format: BlockFormat, { bytes, firstLine }: LineBlock): ReadPart {
  const builder = new ChunkBuilder();
  const rejected: Rejected[] = [];
  const reader = new LogReader(
    {
      request: (request, line) => builder.add(request, firstLine - 1 + line),
      rejected: (line, fault, text) =>
        rejected.push({ line: firstLine - 1 + line, fault, text: text.slice(0, LONGEST_REJECTED_TEXT) }),
    },
    { format },
  );
  reader.push(bytes);
  reader.end();
  return {
    tables: builder.rows > 0 ? [builder.build()] : [],
    rejected,
    ignored: reader.ignoredFields,
    droppedHeaders: builder.droppedHeaders,
  };
}
