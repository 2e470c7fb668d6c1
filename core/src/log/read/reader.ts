import type { Request } from '../../request/index.js';
import { type FieldFault, type LineFault, type LineResult, lineFault } from '../line.js';
import { CsvReader } from './csv.js';
import { detectFormat, type LogFormat, settledFormat } from './detect.js';
import { looksBinary, Utf8Stream } from './encoding.js';
import { HarReader } from './har.js';
import { readLineBy } from './line-format.js';
import { type Mapping, NO_MAPPING } from './mapping.js';
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
    this.#format = settledFormat(this.#format, this.#mapping, () => detectFormat(firstLines(bytes)));
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
    else this.#lines?.take({ number, text });
  }

  #give(line: number, result: LineResult, text: string): void {
    if ('request' in result) this.#taker.request(result.request, line, result.faults);
    else this.#taker.rejected(line, result.fault, text);
  }
}

/** The format of a log and its fields, from its start. */
export interface LogStart {
  readonly format: LogFormat;
  /** Whether it is in an encoding of two bytes a character, so that its bytes are no lines. */
  readonly wide: boolean;
  readonly binary: boolean;
}

/** Detects the format from the first bytes of a log: all of it, or `LOG_SAMPLE` bytes. */
export function lookAtStart(start: Uint8Array): LogStart {
  const stream = new Utf8Stream();
  const bytes = stream.push(start);
  return { format: detectFormat(firstLines(bytes)), wide: stream.wide, binary: looksBinary(bytes.subarray(0, SAMPLE)) };
}

/** This many of the first bytes are enough to detect the format. */
export const LOG_SAMPLE = SAMPLE;

/** The text of the lines that are whole in the bytes; all of it where there is no line end. */
function firstLines(bytes: Uint8Array): string {
  const sample = bytes.subarray(0, SAMPLE);
  const end = bytes.length > SAMPLE ? sample.lastIndexOf(10) : -1;
  return new TextDecoder().decode(end < 0 ? sample : sample.subarray(0, end));
}
