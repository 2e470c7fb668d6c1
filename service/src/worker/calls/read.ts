import {
  type BlockFormat,
  type ColumnTable,
  type LineBlock,
  type LogFormat,
  type LogReaderOptions,
  type LogStart,
  type LogSummary,
  lookAtStart,
  type ReadPart,
  readBlock,
  StreamReader,
  summariseLog,
} from '@jade-fence/core';
import { packTable } from '../../log/packing.js';

/** A chunk of a log as it is stored. Times are milliseconds since 1970, null where no request has one. */
export interface PackedTable {
  readonly rows: number;
  readonly firstTime: number | null;
  readonly lastTime: number | null;
  readonly summary: LogSummary;
  readonly packed: Uint8Array;
}

/** What was read of a part of a log, its chunks as they are stored. */
export type PackedPart = Omit<ReadPart, 'tables'> & { readonly chunks: readonly PackedTable[] };

export function lookAtLog(start: Uint8Array): LogStart {
  return lookAtStart(start);
}

/** Reads whole lines of a log, by themselves. */
export function readLines(format: BlockFormat, block: LineBlock): PackedPart {
  return packedPart(readBlock(format, block));
}

const readers = new Map<number, StreamReader>();

/** Makes ready to read a log from its start to its end; all calls of one log go to one thread. */
export function openReader(log: number, options: LogReaderOptions): void {
  readers.set(log, new StreamReader(options));
}

export function readPiece(log: number, piece: Uint8Array): PackedPart {
  return packedPart(readerOf(log).push(piece));
}

/** Ends the log, and tells what it was. */
export function endReader(log: number): PackedPart & { readonly format: LogFormat; readonly lines: number } {
  const reader = readerOf(log);
  const part = packedPart(reader.end());
  return { ...part, format: reader.format, lines: reader.lines };
}

export function closeReader(log: number): void {
  readers.delete(log);
}

function readerOf(log: number): StreamReader {
  const reader = readers.get(log);
  if (reader === undefined) throw new Error(`log ${log} is not open here`);
  return reader;
}

const packedPart = ({ tables, ...rest }: ReadPart): PackedPart => ({ ...rest, chunks: tables.map(packedTable) });

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
    packed: packTable(table),
  };
}
