import {
  BLOCK_FORMATS,
  type BlockFormat,
  LineBlocks,
  LOG_SAMPLE,
  type LogFormat,
  type Mapping,
  settledFormat,
} from '@jade-fence/core/log';
import { NO_REDACTION, type Redaction, redactedByAny, tryRedaction } from '@jade-fence/core/redact';
import type { PackedPart } from '../worker/calls/read.js';
import type { WorkerPool } from '../worker/pool.js';
import type { ImportOptions } from './import-options.js';
import type { LogFacts } from './log-facts.js';

/** Takes what was read, part by part, in the order of the log. */
export type TakePart = (part: PackedPart) => Promise<void>;

/** This many blocks a worker are in flight; more would only fill the memory. */
const BLOCKS_AHEAD = 2;
/** Pieces are put together to this many bytes before they go to a worker. */
const PIECE = 1024 * 1024;
let readers = 0;

/** Reads a log on the workers: in parallel blocks when its lines are independent, else from start to end. */
export async function readLog(
  pool: WorkerPool,
  bytes: AsyncIterable<Buffer>,
  { format, mapping, redact }: Pick<ImportOptions, 'format' | 'mapping' | 'redact'>,
  take: TakePart,
): Promise<LogFacts> {
  const { start, rest } = await startOf(bytes);
  const found = await pool.ask('lookAtLog', [start, mapping]);
  const settled = settledFormat(format, mapping ?? { columns: {} }, () => found.format);
  const { binary } = found;
  const redaction = redactedByAny((redact ?? []).map((word) => tryRedaction(word) ?? NO_REDACTION));
  // What is in front of lines may part them, so that they are read one behind the other.
  if (isBlockFormat(settled) && !found.wide && found.prefix === undefined)
    return {
      format: settled,
      binary,
      lines: await readBlocks(pool, rest, { format: settled, mapping, redaction }, take),
    };
  return { ...(await readStream(pool, rest, { format: settled, mapping, redaction }, take)), binary };
}

const isBlockFormat = (format: LogFormat): format is BlockFormat =>
  (BLOCK_FORMATS as readonly LogFormat[]).includes(format);

async function readBlocks(
  pool: WorkerPool,
  bytes: AsyncIterable<Buffer>,
  {
    format,
    mapping,
    redaction,
  }: { readonly format: BlockFormat; readonly mapping: Mapping | undefined; readonly redaction: Redaction },
  take: TakePart,
): Promise<number> {
  const ahead: Promise<PackedPart>[] = [];
  let lines = 0;
  /** Memory that blocks were in, to be used again: freeing and taking so much costs more than reading it. */
  const used: Uint8Array[] = [];
  const blocks = new LineBlocks(
    (block) => {
      lines += block.lines;
      const read = pool.ask('readLines', [format, block, redaction, mapping]).then((part) => {
        used.push(new Uint8Array(block.bytes.buffer));
        return part;
      });
      // It is awaited in its turn, and must not count as unheeded until then.
      read.catch(() => undefined);
      ahead.push(read);
    },
    // Threads see the same memory, so that nothing is copied to them.
    { allocate: (size) => used.pop() ?? new Uint8Array(new SharedArrayBuffer(size)) },
  );
  const most = pool.workers.length * BLOCKS_AHEAD;
  const taken = async (left: number) => {
    while (ahead.length > left) await take(await (ahead.shift() as Promise<PackedPart>));
  };
  for await (const piece of bytes) {
    blocks.push(piece);
    await taken(most);
  }
  blocks.end();
  await taken(0);
  return lines;
}

async function readStream(
  pool: WorkerPool,
  bytes: AsyncIterable<Buffer>,
  options: Pick<ImportOptions, 'format' | 'mapping'> & { readonly redaction: Redaction },
  take: TakePart,
): Promise<Omit<LogFacts, 'binary'>> {
  const worker = pool.idlest;
  const number = ++readers;
  await worker.call('openReader', [number, options]);
  try {
    for await (const piece of inPieces(bytes)) await take(await worker.call('readPiece', [number, piece]));
    const { format, lines, ...part } = await worker.call('endReader', [number]);
    await take(part);
    return { format, lines };
  } finally {
    await worker.call('closeReader', [number]).catch(() => undefined);
  }
}

/** The first bytes, and all of them with these once more. */
async function startOf(bytes: AsyncIterable<Buffer>): Promise<{ start: Buffer; rest: AsyncIterable<Buffer> }> {
  const pieces = bytes[Symbol.asyncIterator]();
  const first: Buffer[] = [];
  let length = 0;
  while (length < LOG_SAMPLE) {
    const next = await pieces.next();
    if (next.done) break;
    first.push(next.value);
    length += next.value.length;
  }
  async function* whole(): AsyncGenerator<Buffer> {
    try {
      yield* first;
      for (let next = await pieces.next(); !next.done; next = await pieces.next()) yield next.value;
    } finally {
      await pieces.return?.();
    }
  }
  return { start: Buffer.concat(first), rest: whole() };
}

async function* inPieces(bytes: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let pieces: Buffer[] = [];
  let length = 0;
  for await (const piece of bytes) {
    pieces.push(piece);
    length += piece.length;
    if (length < PIECE) continue;
    yield Buffer.concat(pieces);
    [pieces, length] = [[], 0];
  }
  if (length > 0) yield Buffer.concat(pieces);
}
