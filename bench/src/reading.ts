import type { ColumnTable } from '@jade-fence/core/column';
import { ChunkBuilder, LogReader } from '@jade-fence/core/log';
import type { LineFormatName } from '@jade-fence/demo';
import { gardenLines } from './garden.js';
import type { Pair } from './measure.js';

const REQUESTS = 200_000;
const PIECE = 256 * 1024;

/** Reading a log of bytes into chunks, against `JSON.parse` of the same requests alone. */
export function readingPair(format: LineFormatName): Pair {
  const bytes = Buffer.from(`${gardenLines(REQUESTS, format).join('\n')}\n`);
  const parsed = gardenLines(REQUESTS, 'json-lines');
  return {
    name: `read-${format}`,
    unit: 'ms for 200,000 requests',
    figure: () => void readChunks(bytes),
    floorName: 'JSON.parse alone',
    floor: () => {
      for (const line of parsed) JSON.parse(line);
    },
  };
}

export function readChunks(bytes: Buffer): ColumnTable[] {
  const chunks: ColumnTable[] = [];
  let builder = new ChunkBuilder();
  const turn = () => {
    chunks.push(builder.build());
    builder = new ChunkBuilder();
  };
  const reader = new LogReader({
    request: (request, line) => {
      builder.add(request, line);
      if (builder.full) turn();
    },
    rejected: (line, fault) => {
      throw new Error(`line ${line}: ${fault.code}`);
    },
  });
  for (let at = 0; at < bytes.length; at += PIECE) reader.push(bytes.subarray(at, at + PIECE));
  reader.end();
  if (builder.rows > 0) turn();
  return chunks;
}
