import { ChunkBuilder } from '../chunk/builder.js';
import { type LineResult, lineFault } from '../line.js';
import { type BlockFormat, type LineCounts, type ReadLine, readLineBy } from '../read/line-format.js';
import { hasPlaces, type Mapping, NO_MAPPING } from '../read/mapping.js';
import { tryLinePattern } from '../read/pattern.js';
import { countIgnored } from '../read/request-fields.js';
import { LineSplitter, type LineText, LONGEST_LINE, LONGEST_LINE_TEXT } from '../read/splitter.js';
import { BlockRows, COMBINED_NONE, JSON_NONE } from './block-rows.js';
import { CombinedScanner } from './combined-scanner.js';
import { JsonScanner } from './json-scanner.js';
import { JsonTreeScanner } from './json-tree-scanner.js';
import type { LineBlock } from './line-blocks.js';
import { countUnreadable, LONGEST_REJECTED_TEXT, type ReadPart, type Rejected } from './parts.js';
import { PatternScanner } from './pattern-scanner.js';

const NEWLINE = 10;

/**
 * Reads a block of lines, by itself. Most lines are scanned as bytes; those that the scanner leaves, and all that do not
 * hold, are read as any line is.
 */
export function readBlock(
  format: BlockFormat,
  { bytes: given, firstLine }: LineBlock,
  mapping: Mapping = NO_MAPPING,
): ReadPart {
  const bytes = given.at(-1) === NEWLINE ? given : withNewline(given);
  const builder = new ChunkBuilder();
  const rejected: Rejected[] = [];
  const ignored = new Map<string, number>();
  const unreadable = new Map<string, number>();
  const counts: LineCounts = { ignored, missing: new Map() };
  const readText = readLineBy(format, mapping);
  // A scanner knows the names and the order of our own formats alone.
  const plain = !hasPlaces(mapping) && mapping.zone === undefined;
  const json = format === 'json-lines' && plain ? new JsonScanner(bytes) : undefined;
  const tree =
    format === 'json-lines' && !plain && JsonTreeScanner.knows(mapping)
      ? new JsonTreeScanner(bytes, mapping)
      : undefined;
  const scanner =
    json ?? tree ?? (format === 'combined' ? new CombinedScanner(bytes) : textScanner(format, bytes, mapping));
  const rows = new BlockRows(builder, bytes, format === 'combined' ? COMBINED_NONE : JSON_NONE);
  // Each line goes through it by itself.
  const splitter = new LineSplitter(LONGEST_LINE);
  const read = (text: LineText, line: number) => {
    const result = readLine(readText, text, counts);
    if (result === undefined) return;
    if ('request' in result) {
      builder.add(result.request, line);
      countUnreadable(unreadable, result.faults);
    } else rejected.push({ line, fault: result.fault, text: (text ?? '').slice(0, LONGEST_REJECTED_TEXT) });
  };
  for (let start = 0, line = firstLine; start < bytes.length; line++) {
    let end = scanner?.scan(start) ?? -1;
    if (scanner && end >= 0 && end - start <= LONGEST_LINE && rows.add(scanner.fields, line)) {
      (json ?? tree)?.eachIgnored((name) => countIgnored(ignored, name));
      tree?.eachMissing((field) => counts.missing.set(field, (counts.missing.get(field) ?? 0) + 1));
    } else {
      if (end < 0) end = bytes.indexOf(NEWLINE, start);
      splitter.push(bytes.subarray(start, end + 1), (text) => read(text, line));
    }
    start = end + 1;
  }
  for (const [field, lines] of counts.missing) unreadable.set(`${field} no-such-place`, lines);
  return {
    tables: builder.rows > 0 ? [builder.build()] : [],
    rejected,
    ignored,
    unreadable,
    droppedHeaders: builder.droppedHeaders,
  };
}

/** The scanner of text by a pattern; undefined where every line is read as a whole. */
function textScanner(format: BlockFormat, bytes: Uint8Array, { pattern, zone }: Mapping): PatternScanner | undefined {
  const read = format === 'text' && pattern !== undefined ? tryLinePattern(pattern) : undefined;
  return read && !('fault' in read) && PatternScanner.knows(read, zone) ? new PatternScanner(bytes, read) : undefined;
}

/** The request of a line, or its fault; undefined when the line is empty. */
function readLine(read: ReadLine, text: LineText, counts: LineCounts): LineResult | undefined {
  if (text === undefined) return lineFault('too-long', LONGEST_LINE_TEXT);
  return text.trim() === '' ? undefined : read(text, counts);
}

function withNewline(bytes: Uint8Array): Uint8Array {
  const longer = new Uint8Array(bytes.length + 1);
  longer.set(bytes);
  longer[bytes.length] = NEWLINE;
  return longer;
}
