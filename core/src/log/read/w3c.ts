import { type LineResult, lineFault } from '../line.js';
import { fieldsOfRow } from './columns.js';
import { countIgnored, readRequest } from './request-fields.js';

/** Identifiers of the W3C Extended Log File Format, and those in general use, by our short names. */
const IDENTIFIERS = new Map(
  Object.entries({
    ...{ date: 'date', time: 'time', 'c-ip': 'peer', 's-ip': 'destination', 's-port': 'port', 'cs-port': 'port' },
    ...{
      'cs-method': 'method',
      'cs-uri': 'url',
      'cs-uri-stem': 'path',
      'cs-uri-path': 'path',
      'cs-uri-query': 'query',
    },
    ...{ 'cs-uri-scheme': 'scheme', 'cs-uri-port': 'port', 'cs-uri-host': 'host', 'cs-host': 'host' },
    ...{ 'cs(host)': 'host', 'cs-username': 'user', 'cs-version': 'protocol', 'cs(user-agent)': 'agent' },
    ...{ 'cs(referer)': 'referrer', 'sc-status': 'status', 'sc-bytes': 'bytes', 'cs-bytes': 'size' },
    ...{ 'x-forwarded-for': 'forwarded-for' },
  }),
);

const HEADER = /^cs\(([^)]{1,64})\)$/;

/**
 * Reads the W3C Extended Log File Format (W3C WD-logfile-960323). `#Fields` names the columns, and may change in the
 * middle of a file; times are in UTC, and `#Date` gives the day where no column does.
 */
export class W3cReader {
  readonly #ignored: Map<string, number>;
  #fields: readonly (string | undefined)[] | undefined;
  #day: string | undefined;

  constructor(ignored: Map<string, number>) {
    this.#ignored = ignored;
  }

  /** The values of the line; undefined for a directive. */
  read(line: string): LineResult | undefined {
    if (line.startsWith('#')) return this.#directive(line);
    if (this.#fields === undefined) return lineFault('no-columns-yet', line);
    const row = partFields(line);
    if (row === undefined) return lineFault('open-quote', line);
    if (row.length !== this.#fields.length)
      return lineFault('wrong-columns', `${row.length}, where #Fields names ${this.#fields.length}`);
    const dayless = this.#day !== undefined && !this.#fields.includes('date');
    const found = dayless
      ? fieldsOfRow([...this.#fields, 'date'], [...row, this.#day as string], undefined)
      : fieldsOfRow(this.#fields, row, undefined);
    return readRequest(found, this.#ignored);
  }

  #directive(line: string): LineResult | undefined {
    const [name = '', ...values] = line.slice(1).trim().split(/\s+/);
    if (/^date:$/i.test(name)) this.#day = values[0];
    if (!/^fields:$/i.test(name)) return undefined;
    if (values.length === 0) return lineFault('no-columns-yet', line);
    this.#fields = values.map((value) => this.#fieldOf(value.toLowerCase()));
    return undefined;
  }

  #fieldOf(identifier: string): string | undefined {
    const header = HEADER.exec(identifier)?.[1];
    const field = IDENTIFIERS.get(identifier) ?? (header === undefined ? undefined : `header.${header}`);
    if (field === undefined) countIgnored(this.#ignored, identifier);
    return field;
  }
}

/** The fields of a line: parted by blanks, and quoted where they hold some, with quotes doubled. */
function partFields(line: string): string[] | undefined {
  const fields: string[] = [];
  const part = /[ \t]*(?:"((?:[^"]|"")*)"|([^ \t]+))/y;
  let at = 0;
  const end = line.trimEnd().length;
  while (at < end) {
    part.lastIndex = at;
    const found = part.exec(line);
    if (!found || (found[2]?.startsWith('"') ?? false)) return undefined;
    fields.push(found[1] === undefined ? blanks(found[2] as string) : found[1].replaceAll('""', '"'));
    at = part.lastIndex;
  }
  return fields;
}

/** Servers that do not quote put a plus in the place of each blank. */
const blanks = (text: string): string => (/^[^ ]+\/[0-9.]+\+\(/.test(text) ? text.replaceAll('+', ' ') : text);
