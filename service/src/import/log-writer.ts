import { countIgnored, FORMAT_NAMES, LOG_FORMATS, lineFaultText } from '@jade-fence/core/log';
import type { Knex } from 'knex';
import { Refusal, refusal } from '../fault/refusal.js';
import { LogChunk, RejectedLine, RequestLog } from '../model/request-log.js';
import type { PackedPart, PackedTable } from '../worker/calls/read.js';
import type { ImportOptions } from './import-options.js';
import type { LogFacts } from './log-facts.js';
import { nameTaken } from './refusals.js';
import type { DamagedFile } from './unpack/damaged-file.js';

/** This many rejected lines are kept with their text; all of them are counted. */
export const MOST_REJECTED_KEPT = 100_000;
/** This many damaged files of an archive are named. */
const MOST_DAMAGED_KEPT = 50;
const REJECTED_AT_ONCE = 2000;
const SHOWN_WHEN_NOTHING_READ = 5;
const FIELDS_LISTED = 20;

/** Stores what was read, as it comes, so that memory stays bounded while the upload goes on. */
export class LogWriter {
  readonly #trx: Knex.Transaction;
  readonly #log: RequestLog;
  readonly #times = { first: Number.POSITIVE_INFINITY, last: Number.NEGATIVE_INFINITY };
  readonly #ignored = new Map<string, number>();
  readonly #unreadable = new Map<string, number>();
  #rejected: Partial<RejectedLine>[] = [];
  readonly #damaged: DamagedFile[] = [];
  #damagedCount = 0;
  #chunks = 0;
  #dropped = 0;
  #requests = 0;
  #rejectedCount = 0;

  private constructor(trx: Knex.Transaction, log: RequestLog) {
    this.#trx = trx;
    this.#log = log;
  }

  static async begin(trx: Knex.Transaction, options: ImportOptions): Promise<LogWriter> {
    const { name, format } = options;
    const empty = {
      redacted: [...(options.redact ?? [])],
      requests: 0,
      lines: 0,
      rejected: 0,
      bytes: 0,
      contentHash: '',
      ignoredFields: {},
      unreadable: {},
      damagedFiles: [],
    };
    const inserted = await RequestLog.query(trx)
      .insert({ name, format: format ?? 'json-lines', ...empty })
      .onConflict('name')
      .ignore()
      .returning('*');
    const log = inserted as RequestLog | undefined;
    if (log?.id === undefined) throw nameTaken(name);
    return new LogWriter(trx, log);
  }

  async take({ chunks, rejected, ignored, unreadable, droppedHeaders }: PackedPart): Promise<void> {
    for (const chunk of chunks) await this.#takeChunk(chunk);
    for (const line of rejected) this.#reject(line);
    while (this.#rejected.length >= REJECTED_AT_ONCE) await this.#writeRejected();
    for (const [name, count] of ignored) countIgnored(this.#ignored, name, count);
    for (const [name, count] of unreadable) countIgnored(this.#unreadable, name, count);
    this.#dropped += droppedHeaders;
  }

  /** A file of an archive that was not read to its end. */
  damaged(file: DamagedFile): void {
    this.#damagedCount++;
    if (this.#damaged.length < MOST_DAMAGED_KEPT) this.#damaged.push({ ...file, file: plainText(file.file) });
  }

  async finish(facts: LogFacts, shown: { readonly bytes: number; readonly contentHash: string }): Promise<RequestLog> {
    if (this.#requests === 0) throw this.#nothingRead(facts);
    while (this.#rejected.length > 0) await this.#writeRejected();
    return RequestLog.query(this.#trx).patchAndFetchById(this.#log.id, {
      ...shown,
      format: facts.format,
      requests: this.#requests,
      lines: facts.lines,
      rejected: this.#rejectedCount,
      ignoredFields: { ...Object.fromEntries(this.#ignored), ...this.#droppedHeaders() },
      damagedFiles: this.#damagedFiles(),
      unreadable: Object.fromEntries([...this.#unreadable].filter((each) => !this.#isThereSometimes(each))),
      firstTime: dateOf(this.#times.first),
      lastTime: dateOf(this.#times.last),
    });
  }

  async #takeChunk({ rows, firstTime, lastTime, summary, paths, packed }: PackedTable): Promise<void> {
    this.#requests += rows;
    this.#times.first = Math.min(this.#times.first, firstTime ?? Number.POSITIVE_INFINITY);
    this.#times.last = Math.max(this.#times.last, lastTime ?? Number.NEGATIVE_INFINITY);
    const place = { logId: this.#log.id, number: this.#chunks++ };
    const times = { firstTime, lastTime, timesKept: true };
    await LogChunk.query(this.#trx).insert({
      ...place,
      rows,
      ...times,
      summary,
      paths: Buffer.from(paths),
      data: Buffer.from(packed),
    });
  }

  #reject({ line, fault, text }: PackedPart['rejected'][number]): void {
    this.#rejectedCount++;
    if (this.#rejectedCount > MOST_REJECTED_KEPT) return;
    // PostgreSQL's text has no NUL.
    const plain = (shown: string) => shown.replaceAll('\0', '\uFFFD');
    const reason = plain(lineFaultText(fault));
    this.#rejected.push({ logId: this.#log.id, line, code: fault.code, reason, text: plain(text) });
  }

  /** A place that some lines have is right; only one that none has is worth a word. */
  #isThereSometimes([key, lines]: readonly [string, number]): boolean {
    return key.endsWith(' no-such-place') && lines < this.#requests;
  }

  #damagedFiles(): readonly DamagedFile[] {
    const more = this.#damagedCount - this.#damaged.length;
    return more === 0 ? this.#damaged : [...this.#damaged, { file: `${more} more`, reason: 'They are damaged too' }];
  }

  #droppedHeaders(): Record<string, number> {
    return this.#dropped === 0 ? {} : { '(headers of too many names)': this.#dropped };
  }

  async #writeRejected(): Promise<void> {
    const some = this.#rejected.splice(0, REJECTED_AT_ONCE);
    await RejectedLine.query(this.#trx).insert(some);
  }

  #nothingRead({ format, lines, binary }: LogFacts): Refusal {
    const some = this.#rejected.slice(0, SHOWN_WHEN_NOTHING_READ);
    const shown = FORMAT_NAMES[format];
    const detail =
      this.#rejectedCount === 0
        ? lines === 0
          ? 'The log is empty.'
          : `It has ${lines === 1 ? 'one line' : `${lines} lines`} and no request, read as ${shown}.`
        : `None of its ${this.#rejectedCount} lines could be read as ${shown}.`;
    const names = [...this.#ignored.keys()].slice(0, FIELDS_LISTED).join(', ');
    const known = LOG_FORMATS.map((each) => FORMAT_NAMES[each]).join(', ');
    const issues = some.map(({ line, reason }) => ({ path: `line ${line}`, what: reason as string }));
    const formats = binary ? undefined : known;
    return refusal('no-readable-lines', { detail, fields: names, formats }, { issues });
  }
}

/** Without NUL, which PostgreSQL's text does not take, and not longer than a name of a file. */
const plainText = (text: string): string => text.replaceAll('\0', '\uFFFD').slice(0, 300);

const dateOf = (time: number): Date | null => (Number.isFinite(time) ? new Date(time) : null);
