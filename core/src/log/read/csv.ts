import { type LineResult, lineFault } from '../line.js';
import { fieldsOfColumns, fieldsOfRow } from './columns.js';
import type { Mapping } from './mapping.js';
import { countIgnored, readRequest } from './request-fields.js';

const LONGEST_RECORD = 64 * 1024;
const MOST_LINES = 100;
const DELIMITERS = [',', ';', '\t', '|'] as const;

/** Parts a record of CSV (RFC 4180) into its fields; undefined where it ends within quotes, so that it goes on. */
export function partRecord(text: string, delimiter: string): string[] | undefined {
  const fields: string[] = [];
  let at = 0;
  for (;;) {
    if (text[at] === '"') {
      let field = '';
      let end = at + 1;
      for (;;) {
        const quote = text.indexOf('"', end);
        if (quote < 0) return undefined;
        field += text.slice(end, quote);
        end = quote + 1;
        if (text[end] !== '"') break;
        field += '"';
        end++;
      }
      const next = text.indexOf(delimiter, end);
      fields.push(field + text.slice(end, next < 0 ? text.length : next));
      if (next < 0) return fields;
      at = next + 1;
    } else {
      const next = text.indexOf(delimiter, at);
      fields.push(text.slice(at, next < 0 ? text.length : next));
      if (next < 0) return fields;
      at = next + 1;
    }
  }
}

/** The delimiter that parts the header into most columns; undefined where there is but one. */
export function delimiterOf(header: string): string | undefined {
  const counted = DELIMITERS.map((delimiter) => ({ delimiter, columns: partRecord(header, delimiter)?.length ?? 0 }));
  const best = counted.reduce((a, b) => (b.columns > a.columns ? b : a));
  return best.columns > 1 ? best.delimiter : undefined;
}

/** Takes what a line holds. */
export type GiveLine = (line: number, result: LineResult, text: string) => void;

interface OpenLine {
  readonly number: number;
  readonly text: string;
}

/**
 * Reads a table of comma-separated values with a header, line by line; a record may be of several lines. Where a quote
 * is not closed soon, its line is rejected and those behind it are read as if it were not there.
 */
export class CsvReader {
  readonly #mapping: Mapping;
  readonly #ignored: Map<string, number>;
  readonly #give: GiveLine;
  #delimiter = ',';
  #names: readonly string[] = [];
  #fields: readonly (string | undefined)[] | undefined;
  /** The lines of a record that goes on. */
  #open: OpenLine[] = [];
  #openLength = 0;

  constructor(mapping: Mapping, ignored: Map<string, number>, give: GiveLine) {
    this.#mapping = mapping;
    this.#ignored = ignored;
    this.#give = give;
  }

  take(line: OpenLine): void {
    for (const waiting = [line]; waiting.length > 0; ) {
      this.#push(waiting.shift() as OpenLine);
      if (this.#openLength > LONGEST_RECORD || this.#open.length > MOST_LINES) waiting.unshift(...this.#giveUp());
    }
  }

  /** Gives up what is open when the file ends. */
  end(): void {
    while (this.#open.length > 0) for (const line of this.#giveUp()) this.take(line);
  }

  #push(line: OpenLine): void {
    if (this.#open.length === 0 && line.text.trim() === '') return;
    this.#open.push(line);
    this.#openLength += line.text.length;
    const text = this.#open.map((each) => each.text).join('\n');
    if (this.#fields === undefined) this.#delimiter = delimiterOf(text) ?? ',';
    const record = partRecord(text, this.#delimiter);
    if (record === undefined) return;
    const { number } = this.#open[0] as OpenLine;
    this.#close();
    const result = this.#fields === undefined ? this.#head(record) : this.#row(record, this.#fields);
    if (result) this.#give(number, result, text);
  }

  /** Rejects the line that opened the quote, and answers those behind it. */
  #giveUp(): OpenLine[] {
    const [first, ...others] = this.#open;
    this.#close();
    if (first) this.#give(first.number, lineFault('open-quote', first.text), first.text);
    return others;
  }

  #close(): void {
    this.#open = [];
    this.#openLength = 0;
  }

  #row(record: readonly string[], fields: readonly (string | undefined)[]): LineResult {
    if (record.length > this.#names.length) return lineFault('too-many-columns', `${record.length}`);
    return readRequest(fieldsOfRow(fields, record, this.#mapping.zone), this.#ignored);
  }

  /** The header has no request, only faults. */
  #head(names: readonly string[]): LineResult | undefined {
    this.#names = names;
    this.#fields = fieldsOfColumns(names, this.#mapping);
    names.forEach((name, at) => {
      if (this.#fields?.[at] === undefined) countIgnored(this.#ignored, name.trim() || `column ${at + 1}`);
    });
    const missing = Object.values(this.#mapping.columns).filter(
      (column) => !names.some((name) => name.trim().toLowerCase() === column.trim().toLowerCase()),
    );
    return missing.length > 0 ? lineFault('no-such-column', missing.join(', ')) : undefined;
  }
}
