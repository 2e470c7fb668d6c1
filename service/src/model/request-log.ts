import type { LogFormat } from '@jade-fence/core/log';
import type { LogSummary } from '@jade-fence/core/replay';
import { BaseModel } from './base.js';

/** An imported request log; its requests are in chunks. */
export class RequestLog extends BaseModel {
  static override tableName = 'logs';
  static override jsonAttributes = ['ignoredFields', 'unreadable', 'redacted', 'damagedFiles'];
  id!: number;
  name!: string;
  format!: LogFormat;
  requests!: number;
  lines!: number;
  rejected!: number;
  bytes!: number;
  contentHash!: string;
  ignoredFields!: Readonly<Record<string, number>>;
  /** Values that could not be read and left their fields unseen: how many, by `field code`. */
  unreadable!: Readonly<Record<string, number>>;
  /** What of its requests was left out when they were stored. */
  redacted!: readonly string[];
  /** The files of the archive that could not be read to their ends. */
  damagedFiles!: readonly { readonly file: string; readonly reason: string }[];
  firstTime!: Date | null;
  lastTime!: Date | null;
  importedAt!: Date;
}

/** A chunk of the requests of a log. */
export class LogChunk extends BaseModel {
  static override tableName = 'log_chunks';
  static override jsonAttributes = ['summary'];
  static override idColumn = ['logId', 'number'];
  logId!: number;
  number!: number;
  rows!: number;
  /** Milliseconds since 1970; null where no request has a time. */
  firstTime!: number | null;
  lastTime!: number | null;
  /** Whether the times were kept, so that null means none. */
  timesKept!: boolean;
  /** What its requests are; null of chunks that were stored before this was kept. */
  summary!: LogSummary | null;
  /** A Bloom filter of its paths, likewise. */
  paths!: Buffer | null;
  /** A column table, deflated. */
  data!: Buffer;
}

/** A line of a log that could not be read, and why. */
export class RejectedLine extends BaseModel {
  static override tableName = 'rejected_lines';
  static override idColumn = ['logId', 'line'];
  logId!: number;
  line!: number;
  code!: string;
  reason!: string;
  text!: string;
}
