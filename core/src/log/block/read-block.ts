import { ChunkBuilder } from '../chunk/builder.js';
import { type LineResult, lineFault } from '../line.js';
import { readCombinedLine } from '../read/combined.js';
import type { LogFormat } from '../read/detect.js';
import { readJsonLine } from '../read/json-lines.js';
import { countIgnored } from '../read/request-fields.js';
import { LineSplitter, type LineText, LONGEST_LINE, LONGEST_LINE_TEXT } from '../read/splitter.js';
import { BlockRows, COMBINED_NONE, JSON_NONE } from './block-rows.js';
import { CombinedScanner } from './combined-scanner.js';
import { JsonScanner } from './json-scanner.js';
import type { LineBlock } from './line-blocks.js';
import { countUnreadable, LONGEST_REJECTED_TEXT, type ReadPart, type Rejected } from './parts.js';

/** The formats whose lines are independent, so that blocks of them can be read in parallel. */
export const BLOCK_FORMATS = ['json-lines', 'combined'] as const satisfies readonly LogFormat[];
export type BlockFormat = (typeof BLOCK_FORMATS)[number];

const NEWLINE = 10;

/**
 * Reads a block of lines, by itself. Most lines are scanned as bytes; those that the scanner leaves, and all that do not
 * hold, are read as any line is.
 */
export function readBlock(format: BlockFormat, { bytes: given, firstLine }: LineBlock): ReadPart {
  const bytes = given.at(-1) === NEWLINE ? given : withNewline(given);
  const builder = new ChunkBuilder();
  const rejected: Rejected[] = [];
  const ignored = new Map<string, number>();
  const unreadable = new Map<string, number>();
  const json = format === 'json-lines' ? new JsonScanner(bytes) : undefined;
  const scanner = json ?? new CombinedScanner(bytes);
  const rows = new BlockRows(builder, bytes, json ? JSON_NONE : COMBINED_NONE);
  // Each line goes through it by itself.
  const splitter = new LineSplitter(LONGEST_LINE);
  const read = (text: LineText, line: number) => {
    const result = readLine(format, text, ignored);
    if (result === undefined) return;
    if ('request' in result) {
      builder.add(result.request, line);
      countUnreadable(unreadable, result.faults);
    } else rejected.push({ line, fault: result.fault, text: (text ?? '').slice(0, LONGEST_REJECTED_TEXT) });
  };
  for (let start = 0, line = firstLine; start < bytes.length; line++) {
    let end = scanner.scan(start);
    if (end >= 0 && end - start <= LONGEST_LINE && rows.add(scanner.fields, line)) {
      json?.eachIgnored((name) => countIgnored(ignored, name));
    } else {
      if (end < 0) end = bytes.indexOf(NEWLINE, start);
      splitter.push(bytes.subarray(start, end + 1), (text) => read(text, line));
    }
    start = end + 1;
  }
  return {
    tables: builder.rows > 0 ? [builder.build()] : [],
    rejected,
    ignored,
    unreadable,
    droppedHeaders: builder.droppedHeaders,
  };
}

/** The request of a line, or its fault; undefined when the line is empty. */
function readLine(format: BlockFormat, text: LineText, ignored: Map<string, number>): LineResult | undefined {
  if (text === undefined) return lineFault('too-long', LONGEST_LINE_TEXT);
  if (text.trim() === '') return undefined;
  return format === 'json-lines' ? readJsonLine(text, ignored) : readCombinedLine(text);
}

function withNewline(bytes: Uint8Array): Uint8Array {
  const longer = new Uint8Array(bytes.length + 1);
  longer.set(bytes);
  longer[bytes.length] = NEWLINE;
  return longer;
}
