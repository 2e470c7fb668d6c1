import { Kernel } from '../../kernel/index.js';
import { ChunkBuilder } from '../chunk/builder.js';
import { type LineResult, lineFault } from '../line.js';
import { type BlockFormat, type LineCounts, type ReadLine, readLineBy } from '../read/line-format.js';
import { type Mapping, NO_MAPPING } from '../read/mapping.js';
import { tryLinePattern } from '../read/pattern.js';
import { countIgnored } from '../read/request-fields.js';
import { LineSplitter, type LineText, LONGEST_LINE, LONGEST_LINE_TEXT } from '../read/splitter.js';
import type { BatchScanner } from './batch-scanner.js';
import { BlockRows, COMBINED_NONE, JSON_NONE } from './block-rows.js';
import { CombinedScanner } from './combined-scanner.js';
import { JsonKernelScanner } from './json-kernel-scanner.js';
import { JsonScanner } from './json-scanner.js';
import { JsonTree } from './json-tree.js';
import { CombinedKernelScanner, PatternKernelScanner } from './kernel-scanner.js';
import { LineBatch } from './line-batch.js';
import type { LineBlock } from './line-blocks.js';
import { countUnreadable, LONGEST_REJECTED_TEXT, type ReadPart, type Rejected } from './parts.js';
import { PatternScanner } from './pattern-scanner.js';
import { stepsOf } from './pattern-steps.js';
import { PlainScanner } from './plain-scanner.js';

const NEWLINE = 10;
/** A kernel with more bytes of memory than this is let go of when a block has been read. */
const MOST_KEPT = 2 ** 26;

/**
 * Reads blocks of lines, each by itself. Most lines are scanned as bytes; those that the scanner leaves, and all that do
 * not hold, are read as any line is. A thread has one, with the memory that scanning takes.
 */
export class BlockReader {
  readonly #makeKernel: () => Kernel;
  #batch: LineBatch | undefined;

  constructor(makeKernel = () => new Kernel()) {
    this.#makeKernel = makeKernel;
  }

  read(format: BlockFormat, block: LineBlock, mapping: Mapping = NO_MAPPING): ReadPart {
    const batch = this.#batch ?? new LineBatch(this.#makeKernel());
    // Kept again when the block has been read: a kernel that had too little memory is not used any more.
    this.#batch = undefined;
    const bytes = block.bytes.at(-1) === NEWLINE ? block.bytes : withNewline(block.bytes);
    const scanner = scannerOf(format, bytes, mapping, batch);
    const part = readBytes(format, { ...block, bytes }, mapping, { batch, scanner });
    batch.forget();
    scanner.end?.();
    // Its memory does not shrink.
    if (batch.kernel.memory().byteLength <= MOST_KEPT) this.#batch = batch;
    return part;
  }
}

interface Scanning {
  readonly batch: LineBatch;
  readonly scanner: BatchScanner;
}

function readBytes(
  format: BlockFormat,
  { bytes, firstLine }: LineBlock,
  mapping: Mapping,
  { batch, scanner }: Scanning,
): ReadPart {
  const builder = new ChunkBuilder();
  const rejected: Rejected[] = [];
  const ignored = new Map<string, number>();
  const unreadable = new Map<string, number>();
  const counts: LineCounts = { ignored, missing: new Map() };
  const readText = readLineBy(format, mapping);
  const rows = new BlockRows(builder, bytes, batch, format === 'combined' ? COMBINED_NONE : JSON_NONE);
  // Each line goes through it by itself.
  const splitter = new LineSplitter(LONGEST_LINE);
  let line = firstLine;
  const take = (text: LineText) => {
    const result = readLine(readText, text, counts);
    if (result === undefined) return;
    if ('request' in result) {
      builder.add(result.request, line);
      countUnreadable(unreadable, result.faults);
    } else rejected.push({ line, fault: result.fault, text: (text ?? '').slice(0, LONGEST_REJECTED_TEXT) });
  };
  const countName = (name: string) => countIgnored(ignored, name);
  const countMissing = (field: string) => counts.missing.set(field, (counts.missing.get(field) ?? 0) + 1);
  for (let base = 0; base < bytes.length; ) {
    const end = batch.take(bytes, base);
    if (end === base) {
      // Longer than lines may be, of whatever format.
      base = bytes.indexOf(NEWLINE, base) + 1;
      take(undefined);
      line++;
      continue;
    }
    for (let from = 0; base + from < end; ) {
      const count = scanner.scan(batch, base, from, end - base);
      batch.intern(count);
      rows.look(count, base);
      let begun = 0;
      for (let at = 0; at < count; at++, line++) {
        const newline = Math.max(batch.ends[at] as number, -1 - (batch.ends[at] as number));
        if (newline - from > LONGEST_LINE || rows.isLeft(at)) {
          rows.add(begun, at, base, line - at + begun);
          begun = at + 1;
          splitter.push(bytes.subarray(base + from, base + newline + 1), take);
        } else {
          scanner.eachIgnored?.(at, countName);
          scanner.eachMissing?.(at, countMissing);
        }
        from = newline + 1;
      }
      rows.add(begun, count, base, line - count + begun);
    }
    base = end;
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

/** The scanner of a block, in the kernel of the batch where that has them. Every line of the bytes ends with a line feed. */
export function scannerOf(format: BlockFormat, bytes: Uint8Array, mapping: Mapping, batch: LineBatch): BatchScanner {
  const { scan } = batch.kernel;
  switch (format) {
    case 'json-lines': {
      if (!JsonTree.knows(mapping)) break;
      const tree = new JsonTree(mapping);
      return scan ? new JsonKernelScanner(scan, batch, tree) : new PlainScanner(bytes, new JsonScanner(bytes, tree));
    }
    case 'combined':
      return scan ? new CombinedKernelScanner(scan) : new PlainScanner(bytes, new CombinedScanner(bytes));
    case 'text': {
      const pattern = tryLinePattern(mapping.pattern ?? '');
      const steps = 'fault' in pattern ? undefined : stepsOf(pattern, mapping.zone);
      if (steps === undefined) break;
      return scan
        ? new PatternKernelScanner(scan, batch, steps)
        : new PlainScanner(bytes, new PatternScanner(bytes, steps));
    }
  }
  // Every line is read as a whole.
  return new PlainScanner(bytes, undefined);
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
