import { type LineFault, type LineResult, lineFault } from '../line.js';
import { fieldsOfColumns, fieldsOfRow, type Mapping } from './columns.js';
import { countIgnored, readRequest } from './request-fields.js';

const LONGEST_RECORD = 64 * 1024;
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

/** Reads a table of comma-separated values with a header, line by line; a record may be of several lines. */
export class CsvReader {
  readonly #mapping: Mapping;
  readonly #ignored: Map<string, number>;
  #delimiter = ',';
  #names: readonly string[] = [];
  #fields: readonly (string | undefined)[] | undefined;
  #open: string | undefined;

  constructor(mapping: Mapping, ignored: Map<string, number>) {
    this.#mapping = mapping;
    this.#ignored = ignored;
  }

  /** What the line holds; undefined where it is the header, or a record that goes on. */
  read(line: string): LineResult | undefined {
    const text = this.#open === undefined ? line : `${this.#open}\n${line}`;
    if (this.#fields === undefined) this.#delimiter = delimiterOf(text) ?? ',';
    const record = partRecord(text, this.#delimiter);
    if (record === undefined && text.length <= LONGEST_RECORD) {
      this.#open = text;
      return undefined;
    }
    this.#open = undefined;
    if (record === undefined) return lineFault('open-quote', text);
    if (this.#fields === undefined) return this.#head(record);
    if (record.length > this.#names.length) return lineFault('too-many-columns', `${record.length}`);
    return readRequest(fieldsOfRow(this.#fields, record, this.#mapping.zone), this.#ignored);
  }

  get open(): boolean {
    return this.#open !== undefined;
  }

  /** What is left when the file ends. */
  end(): LineFault | undefined {
    return this.#open === undefined ? undefined : lineFault('open-quote', this.#open).fault;
  }

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
