import type { LogFormat, Mapping } from '@jade-fence/core/log';
import type { RefusalFacts } from '../fault/refusal.js';
import { BaseModel } from './base.js';
import { Job } from './job.js';

/** A log that is being brought in, or was. */
export class Import extends Job {
  static override tableName = 'imports';
  static override jsonAttributes = ['mapping', 'redact', 'failure'];
  /** What the log is to be called; no two that are under way have one name. */
  name!: string;
  /** Undefined format and mapping: found from what the file is. */
  format!: LogFormat | null;
  mapping!: Mapping | null;
  redact!: readonly string[];
  /** Who sent it. */
  actor!: string;
  /** The bytes that its sender announced; null where that said nothing. */
  size!: number | null;
  /** The bytes that are here, in how many pieces, and whether these are all. */
  received!: number;
  pieces!: number;
  held!: boolean;
  /** The session of the service that it is sent to. */
  receivedBy!: string;
  /** Why it came to no log. */
  failure!: RefusalFacts | null;
  /** The log that it became. */
  logId!: number | null;
}

/** A part of a file that is sent, kept until its import has ended. */
export class ImportPiece extends BaseModel {
  static override tableName = 'import_pieces';
  static override idColumn = ['importId', 'number'];
  importId!: number;
  number!: number;
  /** Whether it is packed with Snappy. */
  packed!: boolean;
  data!: Buffer;
}
