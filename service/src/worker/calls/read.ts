import type { ColumnTable } from '@jade-fence/core/column';
import {
  type BlockFormat,
  BlockReader,
  type LineBlock,
  type LogFormat,
  type LogReaderOptions,
  type LogStart,
  lookAtStart,
  type Mapping,
  type ReadPart,
  StreamReader,
} from '@jade-fence/core/log';
import { isRedacting, type Redaction, withoutRedacted } from '@jade-fence/core/redact';
import { type LogSummary, pathBloom, summariseLog } from '@jade-fence/core/replay';
import { packTable } from '../../log/packing.js';

/** A chunk of a log as it is stored. Times are milliseconds since 1970, null where no request has one. */
export interface PackedTable {
  readonly rows: number;
  readonly firstTime: number | null;
  readonly lastTime: number | null;
  readonly summary: LogSummary;
  readonly paths: Uint8Array;
  readonly packed: Uint8Array;
}

/** What was read of a part of a log, its chunks as they are stored. */
export type PackedPart = Omit<ReadPart, 'tables'> & { readonly chunks: readonly PackedTable[] };

/** The format of a log, and how it is read, by its first bytes. */
export function lookAtLog(start: Uint8Array, mapping: Mapping | undefined): LogStart {
  return lookAtStart(start, mapping);
}

const blocks = new BlockReader();

/** Reads whole lines of a log, by themselves. */
export function readLines(
  format: BlockFormat,
  block: LineBlock,
  redaction: Redaction,
  mapping: Mapping | undefined,
): PackedPart {
  return packedPart(blocks.read(format, block, mapping), redaction);
}

interface OpenReader {
  readonly reader: StreamReader;
  readonly redaction: Redaction;
}

const readers = new Map<number, OpenReader>();

/** Makes ready to read a log from its start to its end; all calls of one log go to one thread. */
export function openReader(
  log: number,
  { redaction, ...options }: LogReaderOptions & { readonly redaction: Redaction },
): void {
  readers.set(log, { reader: new StreamReader(options), redaction });
}

/** Reads the next bytes of a log that is open here. */
export function readPiece(log: number, piece: Uint8Array): PackedPart {
  const { reader, redaction } = readerOf(log);
  return packedPart(reader.push(piece), redaction);
}

/** Ends the log, and returns its format and counts. */
export function endReader(log: number): PackedPart & { readonly format: LogFormat; readonly lines: number } {
  const { reader, redaction } = readerOf(log);
  const part = packedPart(reader.end(), redaction);
  return { ...part, format: reader.format, lines: reader.lines };
}

/** Lets go of a log that was open here. */
export function closeReader(log: number): void {
  readers.delete(log);
}

function readerOf(log: number): OpenReader {
  const reader = readers.get(log);
  if (reader === undefined) throw new Error(`log ${log} is not open here`);
  return reader;
}

/** Lines that could not be read are kept only where nothing is redacted, for nobody knows what is in them. */
function packedPart({ tables, rejected, ...rest }: ReadPart, redaction: Redaction): PackedPart {
  const redacts = isRedacting(redaction);
  const chunks = tables.map((table) => packedTable(redacts ? withoutRedacted(table, redaction) : table));
  const shown = ({ line, fault }: (typeof rejected)[number]) => ({ line, fault: { ...fault, detail: '…' }, text: '' });
  return { ...rest, chunks, rejected: redacts ? rejected.map(shown) : rejected };
}

function packedTable(table: ColumnTable): PackedTable {
  const time = table.columns.get('time');
  let [first, last] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of time?.type === 'number' ? time.values : []) {
    if (value < first) first = value;
    if (value > last) last = value;
  }
  const seen = first <= last;
  return {
    rows: table.rows,
    firstTime: seen ? first : null,
    lastTime: seen ? last : null,
    summary: summariseLog(table),
    paths: pathBloom(table),
    packed: packTable(table),
  };
}
