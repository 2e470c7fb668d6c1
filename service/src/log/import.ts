import { createHash } from 'node:crypto';
import {
  ChunkBuilder,
  type ColumnTable,
  FORMAT_NAMES,
  LOG_FORMATS,
  type LogFormat,
  LogReader,
  type Mapping,
  tellLineFault,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import { Problem } from '../http/problem.js';
import { LogChunk, RejectedLine, RequestLog } from '../model/request-log.js';
import { packTable } from './packing.js';
import { tooLarge } from './too-large.js';
import { unzipped } from './unzip.js';

export interface ImportOptions {
  readonly name: string;
  /** Undefined: found from what the first lines look like. */
  readonly format: LogFormat | undefined;
  /** How the columns of CSV are taken; undefined: by their names. */
  readonly mapping?: Mapping | undefined;
  /** The most bytes to take, as they are sent and, where they are compressed, as they are. */
  readonly maxBytes: number;
}

/** So many rejected lines are kept with their text; all of them are counted. */
export const MOST_REJECTED_KEPT = 100_000;
const LONGEST_REJECTED_TEXT = 2000;
const REJECTED_AT_ONCE = 2000;
const TOLD_WHEN_NOTHING_READ = 5;

/** Imports a log from its bytes, in one transaction: where anything fails, nothing of it stays. */
export async function importLog(knex: Knex, bytes: AsyncIterable<Buffer>, options: ImportOptions): Promise<RequestLog> {
  return knex.transaction(async (trx) => {
    const writer = await LogWriter.begin(trx, options);
    const hash = createHash('sha256');
    let size = 0;
    // Hashed as it is when unpacked, so that a file and its packed copy are known to be the same.
    for await (const piece of unzipped(bytes, options.maxBytes)) {
      size += piece.length;
      if (size > options.maxBytes) throw tooLarge(options.maxBytes);
      hash.update(piece);
      writer.reader.push(piece);
      await writer.flush();
    }
    writer.reader.end();
    return writer.finish({ bytes: size, contentHash: hash.digest('hex') });
  });
}

class LogWriter {
  readonly reader: LogReader;
  readonly #trx: Knex.Transaction;
  readonly #log: RequestLog;
  readonly #full: ColumnTable[] = [];
  readonly #times = { first: Number.POSITIVE_INFINITY, last: Number.NEGATIVE_INFINITY };
  #rejected: Partial<RejectedLine>[] = [];
  #builder = new ChunkBuilder();
  #chunks = 0;
  #dropped = 0;
  #requests = 0;
  #rejectedCount = 0;

  private constructor(trx: Knex.Transaction, log: RequestLog, { format, mapping }: ImportOptions) {
    this.#trx = trx;
    this.#log = log;
    this.reader = new LogReader(
      {
        request: (request, line) => {
          this.#requests++;
          if (request.time !== undefined) {
            this.#times.first = Math.min(this.#times.first, request.time);
            this.#times.last = Math.max(this.#times.last, request.time);
          }
          this.#builder.add(request, line);
          if (this.#builder.full) this.#turn();
        },
        rejected: (line, fault, text) => {
          this.#rejectedCount++;
          if (this.#rejectedCount > MOST_REJECTED_KEPT) return;
          // PostgreSQL's text has no NUL.
          const kept = text.slice(0, LONGEST_REJECTED_TEXT).replaceAll('\0', '\uFFFD');
          this.#rejected.push({
            logId: log.id,
            line,
            code: fault.code,
            reason: tellLineFault(fault).replaceAll('\0', '\uFFFD'),
            text: kept,
          });
        },
      },
      { format, mapping },
    );
  }

  static async begin(trx: Knex.Transaction, options: ImportOptions): Promise<LogWriter> {
    const { name, format } = options;
    const empty = { requests: 0, lines: 0, rejected: 0, bytes: 0, contentHash: '', ignoredFields: {} };
    const inserted = await RequestLog.query(trx)
      .insert({ name, format: format ?? 'json-lines', ...empty })
      .onConflict('name')
      .ignore()
      .returning('*');
    const log = inserted as RequestLog | undefined;
    if (log?.id === undefined) throw nameTaken(name);
    return new LogWriter(trx, log, options);
  }

  /** Writes what is ready, so that memory stays bounded while the upload goes on. */
  async flush(): Promise<void> {
    for (let table = this.#full.shift(); table; table = this.#full.shift()) {
      const data = await packTable(table);
      await LogChunk.query(this.#trx).insert({ logId: this.#log.id, number: this.#chunks++, rows: table.rows, data });
    }
    while (this.#rejected.length >= REJECTED_AT_ONCE) await this.#writeRejected();
  }

  async finish(told: { readonly bytes: number; readonly contentHash: string }): Promise<RequestLog> {
    if (this.#requests === 0) throw this.#nothingRead();
    if (this.#builder.rows > 0) this.#turn();
    await this.flush();
    while (this.#rejected.length > 0) await this.#writeRejected();
    return RequestLog.query(this.#trx).patchAndFetchById(this.#log.id, {
      ...told,
      format: this.reader.format,
      requests: this.#requests,
      lines: this.reader.lines,
      rejected: this.#rejectedCount,
      ignoredFields: { ...Object.fromEntries(this.reader.ignoredFields), ...this.#droppedHeaders() },
      firstTime: dateOf(this.#times.first),
      lastTime: dateOf(this.#times.last),
    });
  }

  #turn(): void {
    this.#dropped += this.#builder.droppedHeaders;
    this.#full.push(this.#builder.build());
    this.#builder = new ChunkBuilder();
  }

  #droppedHeaders(): Record<string, number> {
    return this.#dropped === 0 ? {} : { '(headers of too many names)': this.#dropped };
  }

  async #writeRejected(): Promise<void> {
    const some = this.#rejected.splice(0, REJECTED_AT_ONCE);
    await RejectedLine.query(this.#trx).insert(some);
  }

  #nothingRead(): Problem {
    const some = this.#rejected.slice(0, TOLD_WHEN_NOTHING_READ);
    const told = FORMAT_NAMES[this.reader.format];
    const detail =
      this.#rejectedCount === 0
        ? this.reader.lines === 0
          ? 'The log is empty.'
          : `It has ${this.reader.lines === 1 ? 'one line' : `${this.reader.lines} lines`} and no request, read as ${told}.`
        : `None of its ${this.#rejectedCount} lines could be read as ${told}.`;
    const known = LOG_FORMATS.map((format) => FORMAT_NAMES[format]).join(', ');
    return new Problem(422, 'no-readable-lines', `${detail} Nothing was imported.`, {
      remedy: this.reader.binary
        ? 'This looks like a binary file. Logs are text, plain or packed with gzip.'
        : `If the format was not found right, name it. Logs are ${known}.`,
      issues: some.map(({ line, reason }) => ({ path: `line ${line}`, what: reason as string })),
    });
  }
}

export function nameTaken(name: string): Problem {
  return new Problem(409, 'log-name-taken', `There is a log \`${name}\` already; nothing was imported.`, {
    remedy: 'Choose another name, or delete that log first.',
  });
}

const dateOf = (time: number): Date | null => (Number.isFinite(time) ? new Date(time) : null);
