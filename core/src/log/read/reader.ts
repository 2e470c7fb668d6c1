import type { Request } from '../../request/index.js';
import { type LineFault, type LineResult, lineFault } from '../line.js';
import { readCombinedLine } from './combined.js';
import { readJsonLine } from './json-lines.js';
import { LineSplitter, type LineText } from './splitter.js';

export const LOG_FORMATS = ['json-lines', 'combined'] as const;
export type LogFormat = (typeof LOG_FORMATS)[number];

/** Takes what a log holds, line by line. Numbers of lines start at 1. */
export interface LogTaker {
  request(request: Request, line: number): void;
  rejected(line: number, fault: LineFault, text: string): void;
}

const LONGEST_LINE = 64 * 1024;
const LONGEST_LINE_TOLD = '64 KiB';
/** So many lines are looked at before the format is settled. */
const SAMPLE = 50;

/**
 * Reads a log from pieces of bytes. Where no format is given, it is the one that most of the first lines are in. A
 * line that cannot be read is handed on with its reason, and never stops the reading.
 */
export class LogReader {
  readonly #taker: LogTaker;
  readonly #splitter = new LineSplitter(LONGEST_LINE);
  readonly #ignored = new Map<string, number>();
  #waiting: LineText[] | undefined;
  #format: LogFormat;
  #line = 0;

  constructor(taker: LogTaker, format: LogFormat | undefined) {
    this.#taker = taker;
    this.#format = format ?? 'json-lines';
    this.#waiting = format === undefined ? [] : undefined;
  }

  /** The format that was given or found. */
  get format(): LogFormat {
    return this.#format;
  }

  get lines(): number {
    return this.#line;
  }

  /** The names of JSON fields that are not ours, with how often they came. */
  get ignoredFields(): ReadonlyMap<string, number> {
    return this.#ignored;
  }

  push(piece: Uint8Array): void {
    this.#splitter.push(piece, (line) => this.#sampled(line));
  }

  end(): void {
    this.#splitter.end((line) => this.#sampled(line));
    if (this.#waiting) this.#settle(this.#waiting);
  }

  #sampled(line: LineText): void {
    if (this.#waiting === undefined) this.#take(line);
    else if (this.#waiting.push(line) >= SAMPLE) this.#settle(this.#waiting);
  }

  #settle(waiting: readonly LineText[]): void {
    this.#format = detectFormat(waiting.filter((line) => line !== undefined));
    this.#waiting = undefined;
    for (const line of waiting) this.#take(line);
  }

  #take(line: LineText): void {
    this.#line++;
    if (line === '' || line?.trim() === '') return;
    const result: LineResult = line === undefined ? lineFault('too-long', LONGEST_LINE_TOLD) : this.#read(line);
    if ('request' in result) this.#taker.request(result.request, this.#line);
    else this.#taker.rejected(this.#line, result.fault, line ?? '');
  }

  #read(line: string): LineResult {
    switch (this.#format) {
      case 'json-lines':
        return readJsonLine(line, this.#ignored);
      case 'combined':
        return readCombinedLine(line);
    }
  }
}

/** The format that most of the lines can be read in; JSON Lines where it is a draw. */
export function detectFormat(lines: readonly string[]): LogFormat {
  const readable = (read: (line: string) => LineResult) => lines.filter((line) => 'request' in read(line)).length;
  const braces = lines.filter((line) => line.trimStart().startsWith('{')).length;
  if (braces > lines.length / 2) return 'json-lines';
  return readable(readCombinedLine) > readable((line) => readJsonLine(line, new Map())) || braces === 0
    ? 'combined'
    : 'json-lines';
}
