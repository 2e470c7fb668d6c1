import type { Request } from '../../request/index.js';
import { type FieldFault, type LineFault, type LineResult, lineFault } from '../line.js';
import { CsvReader } from './csv.js';
import { detectFormat, type LogFormat, settledFormat } from './detect.js';
import { looksBinary, Utf8Stream } from './encoding.js';
import { HarReader } from './har.js';
import { BLOCK_FORMATS, readLineBy } from './line-format.js';
import { type Mapping, NO_MAPPING } from './mapping.js';
import { detectPrefix, type Prefix, PrefixReader, type UnwrappedLine } from './prefix.js';
import { LineSplitter, type LineText, LONGEST_LINE, LONGEST_LINE_TEXT } from './splitter.js';
import { W3cReader } from './w3c.js';

/** Takes what a log holds, line by line. Numbers of lines start at 1. */
export interface LogTaker {
  /** `faults`: the fields of the line that could not be read, if any. */
  request(request: Request, line: number, faults?: readonly FieldFault[]): void;
  rejected(line: number, fault: LineFault, text: string): void;
}

export interface LogReaderOptions {
  /** Undefined: found from how the file starts. */
  readonly format?: LogFormat | undefined;
  /** How its parts are taken for fields. Default by their names. */
  readonly mapping?: Mapping | undefined;
}

/** The format is detected from this many bytes. */
const SAMPLE = 64 * 1024;

/** Takes the lines of a format, one after the other. */
interface LineReader {
  readonly take: (line: { readonly number: number; readonly text: string }) => void;
  readonly end: () => void;
}

/**
 * Reads a log from pieces of bytes. Where no format is given, it is the one that the file starts in. A line that cannot
 * be read is handed on with its reason, and never stops the reading.
 */
export class LogReader {
  readonly #taker: LogTaker;
  readonly #mapping: Mapping;
  readonly #utf8 = new Utf8Stream();
  readonly #splitter = new LineSplitter(LONGEST_LINE);
  readonly #ignored = new Map<string, number>();
  readonly #missing = new Map<string, number>();
  /** The pieces read before the format was known. */
  #waiting: Uint8Array[] | undefined = [];
  #waitingLength = 0;
  #format: LogFormat | undefined;
  #lines: LineReader | undefined;
  #prefix: PrefixReader | undefined;
  /** The time of the prefix of the line at hand. */
  #around: number | undefined;
  #har: HarReader | undefined;
  #line = 0;
  #binary = false;

  constructor(taker: LogTaker, { format, mapping }: LogReaderOptions = {}) {
    this.#taker = taker;
    this.#mapping = mapping ?? NO_MAPPING;
    this.#format = format;
  }

  /** The format that was given or found. */
  get format(): LogFormat {
    return this.#format ?? 'json-lines';
  }

  get lines(): number {
    return this.#har?.lines ?? this.#line;
  }

  /** Whether the file begins like something that is no text. */
  get binary(): boolean {
    return this.#binary;
  }

  /** The names of fields that are not a request's, with how often they came. */
  get ignoredFields(): ReadonlyMap<string, number> {
    return this.#ignored;
  }

  /** The fields of the mapping whose place lines did not have, with how many lines. */
  get missingPlaces(): ReadonlyMap<string, number> {
    return this.#missing;
  }

  push(piece: Uint8Array): void {
    if (this.#waiting === undefined) {
      this.#read(this.#utf8.push(piece));
      return;
    }
    this.#waiting.push(piece.slice());
    this.#waitingLength += piece.length;
    if (this.#waitingLength >= SAMPLE) this.#settle(this.#waiting);
  }

  end(): void {
    if (this.#waiting) this.#settle(this.#waiting);
    this.#read(this.#utf8.end());
    this.#har?.end();
    this.#splitter.end((line) => this.#take(line));
    for (const line of this.#prefix?.end() ?? []) this.#inner(line);
    this.#lines?.end();
  }

  #settle(waiting: readonly Uint8Array[]): void {
    this.#waiting = undefined;
    const whole = new Uint8Array(this.#waitingLength);
    let at = 0;
    for (const piece of waiting) {
      whole.set(piece, at);
      at += piece.length;
    }
    const bytes = this.#utf8.push(whole);
    this.#binary = looksBinary(bytes.subarray(0, SAMPLE));
    const sample = firstLines(bytes);
    const prefix = this.#format === undefined || isOfLines(this.#format) ? prefixOf(sample, this.#mapping) : undefined;
    this.#prefix = prefix && new PrefixReader(prefix, LONGEST_LINE);
    this.#format = settledFormat(this.#format, this.#mapping, () => detectFormat(withoutPrefix(sample, prefix)));
    if (this.#format === 'har') this.#har = new HarReader(this.#taker);
    else this.#lines = this.#linesOf(this.#format);
    this.#read(bytes);
  }

  #linesOf(format: Exclude<LogFormat, 'har'>): LineReader {
    switch (format) {
      case 'json-lines':
      case 'combined':
      case 'text': {
        const read = readLineBy(format, this.#mapping);
        const counts = { ignored: this.#ignored, missing: this.#missing };
        return this.#oneByOne((line) => read(line, counts));
      }
      case 'w3c': {
        const reader = new W3cReader(this.#ignored);
        return this.#oneByOne((line) => reader.read(line));
      }
      case 'csv':
        return new CsvReader(this.#mapping, this.#ignored, (line, result, text) => this.#give(line, result, text));
    }
  }

  /** For a format whose lines are independent; some lines have no request. */
  #oneByOne(read: (line: string) => LineResult | undefined): LineReader {
    return {
      take: ({ number, text }) => {
        const result = text.trim() === '' ? undefined : read(text);
        if (result) this.#give(number, result, text);
      },
      end: () => undefined,
    };
  }

  #read(bytes: Uint8Array): void {
    if (this.#har) this.#har.push(bytes);
    else this.#splitter.push(bytes, (line) => this.#take(line));
  }

  #take(text: LineText): void {
    const number = ++this.#line;
    if (text === undefined) this.#give(number, lineFault('too-long', LONGEST_LINE_TEXT), '');
    else if (this.#prefix === undefined) this.#lines?.take({ number, text });
    else {
      const found = this.#prefix.take(number, text);
      if (found) this.#inner(found);
    }
  }

  #inner({ number, text, time }: UnwrappedLine): void {
    this.#around = time;
    if (text === undefined) this.#give(number, lineFault('too-long', LONGEST_LINE_TEXT), '');
    else this.#lines?.take({ number, text });
  }

  #give(line: number, result: LineResult, text: string): void {
    if ('request' in result) this.#taker.request(withTime(result.request, this.#around), line, result.faults);
    else this.#taker.rejected(line, result.fault, text);
  }
}

/** The format of a log and its fields, from its start. */
export interface LogStart {
  readonly format: LogFormat;
  /** Whether it is in an encoding of two bytes a character, so that its bytes are no lines. */
  readonly wide: boolean;
  readonly binary: boolean;
  /** What is in front of its lines, or around them; undefined for nothing. */
  readonly prefix: Prefix | undefined;
}

/** Detects the format from the first bytes of a log: all of it, or `LOG_SAMPLE` bytes. */
export function lookAtStart(start: Uint8Array, mapping: Mapping = NO_MAPPING): LogStart {
  const stream = new Utf8Stream();
  const bytes = stream.push(start);
  const sample = firstLines(bytes);
  const prefix = prefixOf(sample, mapping);
  return {
    format: detectFormat(withoutPrefix(sample, prefix)),
    wide: stream.wide,
    binary: looksBinary(bytes.subarray(0, SAMPLE)),
    prefix,
  };
}

/** This many of the first bytes are enough to detect the format. */
export const LOG_SAMPLE = SAMPLE;

/** Lines of other formats depend on each other, and come without anything in front. */
const isOfLines = (format: LogFormat): boolean => (BLOCK_FORMATS as readonly LogFormat[]).includes(format);

/** Enough lines to see what is in front of them. */
const LOOKED_AT = 100;

/** What is in front of most lines. Where a pattern reads them as they are, all of it is part of the pattern. */
function prefixOf(sample: string, mapping: Mapping): Prefix | undefined {
  const lines = sample.split(/\r?\n/, LOOKED_AT).filter((line) => line.trim() !== '');
  if (mapping.pattern !== undefined) {
    const read = readLineBy('text', mapping);
    const counts = { ignored: new Map(), missing: new Map() };
    const isWhole = (line: string) => {
      const result = read(line, counts);
      return 'request' in result && result.faults === undefined;
    };
    if (lines.filter(isWhole).length > lines.length / 2) return undefined;
  }
  return detectPrefix(lines);
}

/** The lines inside, as far as they are whole. */
function withoutPrefix(sample: string, prefix: Prefix | undefined): string {
  if (prefix === undefined) return sample;
  const reader = new PrefixReader(prefix, LONGEST_LINE);
  return sample
    .split(/\r?\n/)
    .flatMap((line, at) => reader.take(at, line)?.text ?? [])
    .join('\n');
}

const withTime = (request: Request, time: number | undefined): Request =>
  time === undefined || request.time !== undefined ? request : { ...request, time };

/** The text of the lines that are whole in the bytes; all of it where there is no line end. */
function firstLines(bytes: Uint8Array): string {
  const sample = bytes.subarray(0, SAMPLE);
  const end = bytes.length > SAMPLE ? sample.lastIndexOf(10) : -1;
  return new TextDecoder().decode(end < 0 ? sample : sample.subarray(0, end));
}
